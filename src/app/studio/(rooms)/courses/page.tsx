import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { listCourses } from "@/server/course/course"
import { Link } from "@/ui/link"
import { NewByName } from "@/ui/new-by-name"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../place-tabs"
import { newCourseAction } from "./actions"
import { StateOf } from "./state"

export const metadata = { title: "Courses" }

export default async function CoursesPage({ searchParams }: { searchParams: Promise<{ new?: string }> }) {
  const s = await studio()
  const courses = await listCourses(s.db)
  return (
    <div className="mx-auto max-w-4xl pt-4">
      <h1>Courses</h1>
      <PlaceTabs of="courses" className="mt-2" />
      <NewByName
        says="New course"
        label="Title"
        field="title"
        maxLength={160}
        hint="You can change it later."
        open={courses.length === 0 || (await searchParams).new !== undefined}
        act={newCourseAction}
      />
      {courses.length ? (
        <Table
          className="mt-6"
          columns={[
            { says: "Title" },
            { says: "Status" },
            { says: "Lessons", right: true },
            { says: "Live", right: true },
            { says: "Learners", right: true },
          ]}
        >
          {courses.map((c) => (
            <tr key={c.id} className="border-b border-line">
              <td className="max-w-96 truncate py-2.5">
                <Link href={`/studio/courses/${c.id}`} className="font-semibold text-slate hover:underline">
                  {c.title}
                </Link>
              </td>
              <td>
                <StateOf state={c.state} />
              </td>
              <td className="text-right">{c.lessons}</td>
              <td className="text-right">{c.live}</td>
              <td className="text-right">{c.learners.toLocaleString(locale)}</td>
            </tr>
          ))}
        </Table>
      ) : null}
    </div>
  )
}
