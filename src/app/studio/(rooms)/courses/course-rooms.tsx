import { RoomsWithin } from "../rooms-within"

/** The rooms of all courses together. */
export function CourseRooms() {
  return (
    <div className="mt-2">
      <RoomsWithin
        label="Courses"
        rooms={[
          { name: "All courses", href: "/studio/courses" },
          { name: "Notices", href: "/studio/courses/notices" },
        ]}
      />
    </div>
  )
}
