import { redirect } from "next/navigation"

export default function CalendarPage() {
  redirect("/studio/calendar/webinars")
}
