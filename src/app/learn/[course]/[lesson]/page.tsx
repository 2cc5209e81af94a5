import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { admitted, context, learning } from "@/app/guard"
import { neighbours, progressOf } from "@/core/course/path"
import { locale } from "@/core/words/locale"
import { recommendingIn } from "@/server/affiliate/recommend"
import { handInsOf } from "@/server/course/hand-in"
import { openLesson } from "@/server/course/in-lesson"
import { courseFor } from "@/server/course/learn"
import { askQuizzes } from "@/server/course/quiz"
import { answersOf } from "@/server/course/survey"
import { commentsOn, noteOf } from "@/server/course/talk"
import { noticeFor } from "@/server/notice/show"
import { signedIn } from "@/server/person/session"
import { ActForm } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { markDoneAction } from "../../actions"
import { Curriculum } from "../../curriculum"
import { gate } from "../../gate"
import { Notice } from "../../notice"
import { Progress } from "../../progress"
import { Comments } from "./comments"
import { LessonContent } from "./content"
import { Note } from "./note"

type Params = { params: Promise<{ course: string; lesson: string }> }

/** The tab says lesson and school, to whoever may see the lesson. */
export async function generateMetadata({ params }: Params): Promise<Metadata> {
  const { course: slug, lesson: id } = await params
  const who = await admitted()
  const course = await courseFor(context(), who, slug)
  return { title: course?.lessons.find((l) => l.id === Number(id))?.title ?? "Lesson" }
}

export default async function LessonPage({ params }: Params) {
  const { course: slug, lesson: id } = await params
  const person = await admitted()
  const s = person ? learning(person) : context()
  const asked = /^\d{1,9}$/.test(id) ? Number(id) : 0
  const open = asked ? await openLesson(s, person, slug, asked) : undefined
  if (!open) return gate(person, slug, asked)
  const { course, lesson } = open
  if (course.onlyFiles && course.mine) redirect(`/learn/${slug}`)
  const { before, after } = neighbours(course.lessons, lesson.id)
  const at = course.lessons.findIndex((l) => l.id === lesson.id) + 1
  const done = course.done.has(lesson.id)
  const next = after ? `/learn/${slug}/${after.id}` : `/learn/${slug}`
  const learner = signedIn(person)
  // A learner who has this course.
  const whole = learner && course.mine ? learner.person : null
  const notice = await noticeFor(s, learner, "lesson", course.id)
  const mayPress = person !== null && course.mine
  return (
    <div className="wide lg:grid lg:grid-cols-[17rem_minmax(0,42rem)] lg:gap-10">
      <details className="mb-3 rounded-lg border border-line p-3 lg:hidden">
        <summary className="min-h-6 text-slate">All lessons of “{course.title}”</summary>
        <div className="mt-3">
          <Curriculum course={course} here={lesson.id} brief />
        </div>
      </details>
      <aside aria-label="All lessons" className="hidden lg:block">
        <Curriculum course={course} here={lesson.id} brief />
        {notice ? <Notice notice={notice} className="mt-5" /> : null}
      </aside>
      <article className="min-w-0">
        <p className="text-body">
          <Link href={`/learn/${slug}`} className="inline-block min-h-6 text-slate hover:underline">
            ‹ {course.title}
          </Link>{" "}
          <span className="text-soft">
            · {at} of {course.lessons.length}
          </span>
        </p>
        <h1 className="mt-1 text-[1.75rem]">{lesson.title}</h1>
        <LessonContent
          open={open}
          slug={slug}
          quizzes={await askQuizzes(s.db, open.row, learner)}
          handIns={whole ? await handInsOf(s.db, whole, lesson.id) : null}
          surveys={whole ? await answersOf(s.db, whole, lesson.id) : new Map()}
          recommends={await recommendingIn(s, open.page, whole)}
        />
        {mayPress && open.doneBy === "pressed" ? (
          <ActForm act={markDoneAction} className="mt-8">
            <input type="hidden" name="course" value={slug} />
            <input type="hidden" name="lesson" value={lesson.id} />
            <input type="hidden" name="done" value={done ? "0" : "1"} />
            {done ? null : <input type="hidden" name="next" value={after ? next : "out"} />}
            <Button type="submit" look={done ? "plain" : "primary"} className="min-h-12 w-full">
              {done
                ? "Done. Mark it as not done"
                : after
                  ? `Done. On to: ${after.title}`
                  : "Done. That was the last one"}
            </Button>
          </ActForm>
        ) : null}
        {mayPress && open.doneBy !== "pressed" ? (
          <p className="mt-8 text-soft">{done ? "Done." : doneWhen[open.doneBy]}</p>
        ) : null}
        {course.mine ? null : <TasteOver slug={slug} title={course.title} />}
        <nav aria-label="Before and after" className="mt-4 flex justify-between gap-4 text-body">
          {before ? (
            <Link href={`/learn/${slug}/${before.id}`} className="min-h-8 text-slate hover:underline">
              ‹ {before.title}
            </Link>
          ) : (
            <span />
          )}
          {after ? (
            <Link href={next} className="min-h-8 text-right text-slate hover:underline">
              {after.title} ›
            </Link>
          ) : null}
        </nav>
        {notice ? <Notice notice={notice} className="mt-6 lg:hidden" /> : null}
        {whole ? <Note slug={slug} lesson={lesson.id} body={await noteOf(s.db, whole, lesson.id)} /> : null}
        {whole && open.row.comments !== "off" ? (
          <Comments
            slug={slug}
            lesson={lesson.id}
            moderated={open.row.comments === "moderated"}
            comments={(await commentsOn(s.db, lesson.id, whole)).map((c) => ({ ...c, at: day(c.at) }))}
          />
        ) : null}
        {person && course.mine ? <Progress {...progressOf(course.lessons, course.done)} /> : null}
      </article>
    </div>
  )
}

const day = (at: number) =>
  new Intl.DateTimeFormat(locale, { day: "numeric", month: "long", year: "numeric" }).format(at)

/** What makes a lesson done, where that isn't a press. */
const doneWhen = {
  opened: "",
  watched: "It is done when you have watched it to the end.",
  passed: "It is done when you have passed it.",
  accepted: "It is done when your teacher has accepted it.",
} as const

/** Below a free preview: where the rest is. */
function TasteOver({ slug, title }: { slug: string; title: string }) {
  return (
    <p className="mt-8 rounded-lg bg-reed-wash p-4">
      This lesson is a free preview of “{title}”.{" "}
      <Link href={`/learn/${slug}`} className="font-semibold underline">
        Have all of it
      </Link>
    </p>
  )
}
