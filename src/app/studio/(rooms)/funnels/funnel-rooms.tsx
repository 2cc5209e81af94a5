import { RoomsWithin } from "../rooms-within"

/** The rooms of funnels. */
export function FunnelRooms() {
  return (
    <div className="mt-2">
      <RoomsWithin
        label="Funnels"
        rooms={[
          { name: "Funnels", href: "/studio/funnels", only: true },
          { name: "Tracked links", href: "/studio/funnels/links" },
        ]}
      />
    </div>
  )
}
