import { RoomsWithin } from "../rooms-within"

/** The rooms of people. */
export function PeopleRooms() {
  return (
    <div className="mt-2">
      <RoomsWithin
        label="People"
        rooms={[
          { name: "Everybody", href: "/studio/people" },
          { name: "Segments", href: "/studio/people/segments" },
          { name: "Tags", href: "/studio/people/tags" },
          { name: "Fields", href: "/studio/people/fields" },
          { name: "Import", href: "/studio/people/import" },
        ]}
      />
    </div>
  )
}
