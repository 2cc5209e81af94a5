import { studio } from "@/app/guard"
import { listTeachers } from "@/server/course/teacher"
import { mediaNames } from "@/server/media/media-view"
import { Teachers } from "./teachers"

export const metadata = { title: "Teachers" }

export default async function TeachersPage() {
  const s = await studio()
  const media = await mediaNames(s.db, s.config)
  return (
    <>
      <h1 className="mt-4">Teachers</h1>
      <p className="mt-1 text-soft">
        Written once, and shown by the block “teacher” on every page. A published page shows a change when it is
        published again.
      </p>
      <Teachers teachers={await listTeachers(s.db)} media={media} />
    </>
  )
}
