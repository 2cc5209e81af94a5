import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { LessonContent } from "@/app/learn/[course]/[lesson]/content"
import { Curriculum } from "@/app/learn/curriculum"
import { neighbours } from "@/core/course/path"
import { recommendingIn } from "@/server/affiliate/recommend"
import { handInsOf } from "@/server/course/hand-in"
import { lessonSeenAs } from "@/server/course/learn"
import { askQuizzes } from "@/server/course/quiz"
import { answersOf } from "@/server/course/survey"
import { Link, NameLink } from "@/ui/link"
import { idOf } from "../../../../asked"
import { type AskedAs, askedQuery, seenAs } from "../seen-as"

export const metadata = { title: "Preview as" }

/** A lesson as somebody meets it: to be read, and nothing in it can be pressed. */
export default async function SeeLessonAs({
  params,
  searchParams,
}: {
  params: Promise<{ id: string; lesson: string }>
  searchParams: Promise<AskedAs>
}) {
  const s = await studio()
  const { id, lesson: asked } = await params
  const query = await searchParams
  const seen = await seenAs(s, idOf(id), query)
  const lesson = seen?.course.lessons.find((l) => l.id === idOf(asked))
  if (!seen || !lesson) notFound()
  const { course } = seen
  const open = lesson.may.open ? await lessonSeenAs(s.db, course, lesson) : undefined
  const person = seen.as.as === "person" ? seen.as.person : null
  const room = `/studio/courses/${id}/preview`
  const to = (n: number) => `${room}/${n}${askedQuery(query)}`
  const { before, after } = neighbours(course.lessons, lesson.id)
  return (
    <div className="mt-4">
      <p className="flex flex-wrap items-baseline gap-x-4 rounded-md bg-amber-wash px-3 py-2">
        <span className="min-w-0 flex-1">
          You see “{lesson.title}” as {seen.who}. Nothing is marked by looking, and nothing here can be pressed.
        </span>
        <Link href={`${room}${askedQuery(query)}`} className="underline">
          All lessons
        </Link>
      </p>
      <div className="mt-5 text-lead leading-relaxed lg:grid lg:grid-cols-[17rem_minmax(0,42rem)] lg:gap-10">
        <aside aria-label="All lessons" className="hidden lg:block">
          <Curriculum course={course} here={lesson.id} brief to={(l) => to(l.id)} />
        </aside>
        <article className="min-w-0">
          <h2 className="text-[1.75rem]">{lesson.title}</h2>
          {open ? (
            <fieldset disabled>
              <legend className="sr-only">The lesson</legend>
              <LessonContent
                open={open}
                slug={course.slug}
                quizzes={await askQuizzes(s.db, open.row, person === null ? null : { person, scope: null })}
                handIns={person ? await handInsOf(s.db, person, lesson.id) : null}
                surveys={person ? await answersOf(s.db, person, lesson.id) : new Map()}
                recommends={await recommendingIn(s, open.page, person)}
              />
            </fieldset>
          ) : (
            <p className="mt-4 rounded-lg border border-line bg-card p-4">{seen.meets(lesson)}.</p>
          )}
          <nav aria-label="Before and after" className="mt-6 flex justify-between gap-4 text-body">
            {before ? <NameLink href={to(before.id)}>‹ {before.title}</NameLink> : <span />}
            {after ? (
              <Link href={to(after.id)} className="text-right text-slate hover:underline">
                {after.title} ›
              </Link>
            ) : null}
          </nav>
        </article>
      </div>
    </div>
  )
}
