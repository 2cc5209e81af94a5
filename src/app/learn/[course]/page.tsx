import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { admitted, context, learning } from "@/app/guard"
import { nextLesson, progressOf } from "@/core/course/path"
import { certificateOf } from "@/server/course/certificate"
import { courseFor, myCourse } from "@/server/course/learn"
import { openFiles } from "@/server/course/my-files"
import { signedIn } from "@/server/person/session"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Curriculum } from "../curriculum"
import { gate } from "../gate"
import { Progress } from "../progress"
import { FilesPage } from "./files-page"

type Params = { params: Promise<{ course: string }>; searchParams: Promise<{ begin?: string }> }

export async function generateMetadata({ params }: Params): Promise<Metadata> {
  const who = await admitted()
  const course = await courseFor(context(), who, (await params).course)
  return { title: course?.title ?? "Course" }
}

export default async function CourseHome({ params, searchParams }: Params) {
  const { course: slug } = await params
  const person = await admitted()
  const s = person ? learning(person) : context()
  const course = await myCourse(s, person, slug)
  if (!course) return gate(person, slug, null)
  if (course.onlyFiles) return <FilesPage course={course} open={await openFiles(s, person, course)} />
  const learner = signedIn(person)
  const certificate = learner && (await certificateOf(s.db, learner.person, course.id))
  const progress = progressOf(course.lessons, course.done)
  const next = nextLesson(
    course.lessons.filter((l) => l.may.open),
    course.done,
  )
  // A button that promises the lesson opens the lesson.
  if (next && (await searchParams).begin !== undefined) redirect(`/learn/${slug}/${next.id}`)
  const coming = course.lessons.find((l) => !l.may.open)
  return (
    <>
      <h1>{course.title}</h1>
      <p className="mt-1 text-soft">
        {course.promise}
        {course.teacher ? <span className="block">With {course.teacher}</span> : null}
      </p>
      <Progress {...progress} />
      {certificate ? (
        <p className="mt-4 rounded-lg bg-reed-wash p-4">
          You have done all of it.{" "}
          <a className="font-semibold underline" href={`/learn/certificate/${certificate}/pdf`}>
            Take your certificate
          </a>{" "}
          or{" "}
          <Link className="underline" href={`/learn/certificate/${certificate}`}>
            show it
          </Link>
          .
        </p>
      ) : null}
      {!next && coming?.says ? <p className="mt-3 font-semibold">{coming.says}.</p> : null}
      {next ? (
        <div className="mt-4">
          <Button asChild look="primary" className="min-h-11 w-full sm:w-auto">
            <Link href={`/learn/${slug}/${next.id}`}>
              {progress.done === 0 ? "Open the first lesson" : `Go on: ${next.title}`}
            </Link>
          </Button>
        </div>
      ) : null}
      <Curriculum course={course} />
    </>
  )
}
