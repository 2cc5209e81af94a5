import Link from "next/link"
import { studio } from "@/app/door"
import { listCourses } from "@/server/course/course"
import { Button } from "@/ui/button"
import { NewFunnelForm } from "./form"

export const metadata = { title: "New funnel" }

export default async function NewFunnelPage() {
  const s = await studio()
  const courses = await listCourses(s.db)
  return (
    <div className="mx-auto max-w-2xl pt-6">
      <h1>New funnel</h1>
      {courses.length === 0 ? (
        <>
          <p className="mt-4 text-lg">
            A funnel is made from a course. Write one first: a title and a single lesson are enough.
          </p>
          <p className="mt-4">
            <Button asChild look="primary">
              <Link href="/studio/courses?new">Write a course</Link>
            </Button>
          </p>
        </>
      ) : (
        <NewFunnelForm courses={courses.map((c) => ({ id: c.id, title: c.title, lessons: c.lessons }))} />
      )}
    </div>
  )
}
