import { notFound, redirect } from "next/navigation"
import { context } from "@/app/guard"
import { type GateMet, meetGate } from "@/server/course/gates"
import type { Admitted } from "@/server/person/session"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Curriculum } from "./curriculum"

/** What somebody meets who may not open a course (`lesson` null) or a lesson: a page they are led to, or words on the spot. */
export async function gate(who: Admitted | null, slug: string, lesson: number | null) {
  const met = await meetGate(context(), who, slug, lesson)
  if (!met) {
    if (who === null) redirect(`/learn/sign-in?to=${encodeURIComponent(`/learn/${slug}`)}`)
    notFound()
  }
  if ("goTo" in met) redirect(met.goTo)
  return <Gate {...met} signedIn={who !== null} />
}

function Gate({
  course,
  lesson,
  situation,
  words,
  page,
  signedIn,
}: Exclude<GateMet, { goTo: string }> & { signedIn: boolean }) {
  const title = {
    stranger: "Sign in to go on",
    outside: "This comes with the course",
    ended: "Your access has ended",
    "not-yet": "Not open yet",
  }[situation]
  const to = `/learn/${course.slug}${lesson ? `/${lesson.id}` : ""}`
  return (
    <>
      <p className="text-body">
        <Link
          href={course.mine ? `/learn/${course.slug}` : "/learn"}
          className="inline-block min-h-6 text-slate hover:underline"
        >
          ‹ {course.mine ? course.title : "My courses"}
        </Link>
      </p>
      <h1 className="mt-1">{lesson?.title ?? course.title}</h1>
      <section aria-label={title} className="mt-4 rounded-lg border border-line bg-card p-4">
        <p className="text-lg font-semibold">{(situation === "not-yet" && lesson?.says) || title}</p>
        <p className="mt-1 whitespace-pre-line">{words || usual(situation, course)}</p>
        <p className="mt-3 flex flex-wrap gap-3 empty:hidden">
          {page && situation !== "not-yet" ? (
            <Button asChild look="primary" className="min-h-11">
              <a href={`/${page}`}>See what “{course.title}” is about</a>
            </Button>
          ) : null}
          {signedIn ? null : (
            <Button asChild className="min-h-11">
              <Link href={`/learn/sign-in?to=${encodeURIComponent(to)}`}>Sign in</Link>
            </Button>
          )}
        </p>
      </section>
      <Curriculum course={course} here={lesson?.id} />
    </>
  )
}

function usual(
  situation: Exclude<GateMet, { goTo: string }>["situation"],
  { title, state }: { title: string; state: string },
): string {
  if (state === "closed" && situation === "outside") return `“${title}” is closed to newcomers just now.`
  switch (situation) {
    case "stranger":
      return "If you have joined already, sign in, and you come straight back here."
    case "outside":
      return `You are signed in, and “${title}” isn’t among your courses. If you took it with another address, sign in with that one.`
    case "ended":
      return "What you did is kept. As soon as you are let in again, you go on where you were."
    case "not-yet":
      return "It opens by itself; there is nothing you need to do."
  }
}
