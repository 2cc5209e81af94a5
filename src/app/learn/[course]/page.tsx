import type { Metadata } from "next"
import { learner, surroundings } from "@/app/door"
import { nextLesson, progressOf } from "@/core/course/path"
import { myCourse } from "@/server/course/learn"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { gate } from "../gate"
import { Progress } from "../progress"

type Params = { params: Promise<{ course: string }> }

export async function generateMetadata({ params }: Params): Promise<Metadata> {
  const who = await learner()
  const course = who && (await myCourse(surroundings(), who, (await params).course))
  return { title: course?.title ?? "Course" }
}

export default async function CourseHome({ params }: Params) {
  const { course: slug } = await params
  const person = await learner()
  const course = person === null ? undefined : await myCourse(surroundings(), person, slug)
  if (!course) return gate(person, slug, `/learn/${slug}`)
  const progress = progressOf(course.lessons, course.done)
  const next = nextLesson(course.lessons, course.done)
  return (
    <>
      <h1>{course.title}</h1>
      <p className="mt-1 text-soft">
        {course.promise}
        {course.teacher ? <span className="block">With {course.teacher}</span> : null}
      </p>
      <Progress {...progress} />
      {next ? (
        <Button asChild look="primary" className="mt-4 min-h-11 w-full sm:w-auto">
          <Link href={`/learn/${slug}/${next.id}`}>
            {progress.done === 0 ? "Open the first lesson" : `Go on: ${next.title}`}
          </Link>
        </Button>
      ) : null}
      <ol className="mt-6">
        {course.lessons.map((l, i) => (
          <li key={l.id} className="border-t border-line">
            <Link href={`/learn/${slug}/${l.id}`} className="flex min-h-12 items-center gap-3 py-2 hover:bg-card">
              <span className={`w-6 text-center ${course.done.has(l.id) ? "font-bold text-reed" : "text-soft"}`}>
                {course.done.has(l.id) ? "✓" : i + 1}
              </span>
              <span className="flex-1">{l.title}</span>
              {l.minutes ? <span className="text-[0.93rem] text-soft">{l.minutes} min</span> : null}
              {course.done.has(l.id) ? <span className="sr-only">done</span> : null}
            </Link>
          </li>
        ))}
      </ol>
    </>
  )
}
