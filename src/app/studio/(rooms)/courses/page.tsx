import { studio } from "@/app/door"
import { locale } from "@/core/words/locale"
import { listCourses } from "@/server/course/course"
import { Link } from "@/ui/link"
import { NewCourse } from "./new-course"

export const metadata = { title: "Courses" }

export default async function CoursesPage({ searchParams }: { searchParams: Promise<{ new?: string }> }) {
  const s = await studio()
  const courses = await listCourses(s.db)
  return (
    <div className="mx-auto max-w-4xl pt-4">
      <h1>Courses</h1>
      <NewCourse open={courses.length === 0 || (await searchParams).new !== undefined} />
      {courses.length ? (
        <div className="overflow-x-auto">
          <table className="mt-6 w-full text-left">
            <thead className="text-[0.87rem] text-soft">
              <tr className="border-b border-line">
                <th className="py-2 font-semibold">Title</th>
                <th className="font-semibold">Status</th>
                <th className="text-right font-semibold">Lessons</th>
                <th className="text-right font-semibold">Live</th>
                <th className="text-right font-semibold">Learners</th>
              </tr>
            </thead>
            <tbody>
              {courses.map((c) => (
                <tr key={c.id} className="border-b border-line">
                  <td className="max-w-96 truncate py-2.5">
                    <Link href={`/studio/courses/${c.id}`} className="font-semibold text-slate hover:underline">
                      {c.title}
                    </Link>
                  </td>
                  <td>
                    {c.state === "live" ? (
                      <span className="rounded-full bg-reed-wash px-2 py-0.5 text-[0.87rem] text-reed">Live</span>
                    ) : (
                      <span className="text-soft">Draft</span>
                    )}
                  </td>
                  <td className="text-right">{c.lessons}</td>
                  <td className="text-right">{c.live}</td>
                  <td className="text-right">{c.learners.toLocaleString(locale)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : null}
    </div>
  )
}
