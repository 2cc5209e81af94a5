import { RoomsWithin } from "../rooms-within"

/** The rooms of the calendar. */
export function CalendarRooms() {
  return (
    <div className="mt-2">
      <RoomsWithin
        label="Calendar"
        rooms={[
          { name: "Dates", href: "/studio/calendar" },
          { name: "Webinars", href: "/studio/calendar/webinars" },
        ]}
      />
    </div>
  )
}
