import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { admitted, context } from "@/app/guard"
import { nextLesson, progressOf } from "@/core/course/path"
import { narrowed } from "@/core/page/picture"
import { myCourses } from "@/server/course/learn"
import { myFiles } from "@/server/course/my-files"
import { searchLessons } from "@/server/course/talk"
import { myOrders } from "@/server/ledger/my-orders"
import { myPlans } from "@/server/ledger/renew"
import { noticeFor } from "@/server/notice/show"
import { alsoToHave } from "@/server/offer/link"
import { signedIn } from "@/server/person/session"
import { Button } from "@/ui/button"
import { Link, TextLink } from "@/ui/link"
import { Notice } from "./notice"
import { Progress } from "./progress"

export const metadata: Metadata = { title: "My courses" }

export default async function MyCourses({ searchParams }: { searchParams: Promise<{ search?: string }> }) {
  const person = await admitted()
  if (person === null) redirect("/learn/sign-in")
  const s = context()
  const courses = await myCourses(s, person)
  const search = ((await searchParams).search ?? "").slice(0, 100).trim()
  const found = search ? await searchLessons(s, person, search) : []
  const files = await myFiles(s, person)
  // A device that only ordered learns nothing of what else its address owns.
  const learner = signedIn(person)
  const notice = await noticeFor(s, learner, "shelf")
  const also = learner ? await alsoToHave(s, learner) : []
  const pays = learner !== null && (await myPlans(s.db, learner.person)).length > 0
  const ordered = (await myOrders(s.db, person)).length > 0
  return (
    <>
      <h1>My courses</h1>
      {notice ? <Notice notice={notice} className="mt-4" /> : null}
      {courses.some((c) => c.lessons.length > 5) ? (
        <search>
          <form action="/learn" className="mt-4 flex gap-2">
            <input
              name="search"
              type="search"
              aria-label="Search in my lessons"
              placeholder="Search in my lessons"
              defaultValue={search}
              className="min-h-11 min-w-0 flex-1 rounded-md border border-line bg-card px-3"
            />
            <Button type="submit" className="min-h-11">
              Search
            </Button>
          </form>
        </search>
      ) : null}
      {search ? (
        <section aria-label="Found" className="mt-4 border-b border-line pb-4">
          {found.length ? (
            <ul>
              {found.map((f) => (
                <li key={f.lesson}>
                  <Link href={`/learn/${f.slug}/${f.lesson}`} className="block py-2 hover:bg-card">
                    <span className="font-semibold text-slate">{f.title}</span>
                    <span className="block text-body text-soft">{f.line || f.course}</span>
                  </Link>
                </li>
              ))}
            </ul>
          ) : (
            <p>Nothing that is open to you says “{search}”.</p>
          )}
        </section>
      ) : null}
      {courses.length === 0 && files.length === 0 ? (
        <p className="mt-4">Nothing is open for you yet. When you join a course, you find it here.</p>
      ) : null}
      {courses.map((c) => {
        const progress = progressOf(c.lessons, c.done)
        const next = nextLesson(
          c.lessons.filter((l) => l.may.open),
          c.done,
        )
        const coming = c.lessons.find((l) => !l.may.open)
        return (
          <article key={c.id} className="mt-6 border-t border-line pt-6 first-of-type:border-0 first-of-type:pt-0">
            {c.picture ? (
              <img src={narrowed(c.picture, 960)} alt="" className="mb-4 w-full rounded-lg" width={960} height={540} />
            ) : null}
            <h2 className="text-xl">
              <Link href={`/learn/${c.slug}`} className="hover:underline">
                {c.title}
              </Link>
            </h2>
            <p className="mt-1 text-soft">{c.promise}</p>
            {c.onlyFiles ? null : <Progress {...progress} />}
            {coming?.says ? (
              <p className="mt-2 text-body text-soft">
                Next, “{coming.title}”: {coming.says.charAt(0).toLowerCase() + coming.says.slice(1)}
              </p>
            ) : null}
            {next ? (
              <Button asChild look="primary" className="mt-3 min-h-11 w-full sm:w-auto">
                <Link href={c.onlyFiles ? `/learn/${c.slug}` : `/learn/${c.slug}/${next.id}`}>
                  {c.onlyFiles
                    ? "Your files"
                    : progress.done === 0
                      ? "Begin"
                      : progress.done === progress.of
                        ? "Read again"
                        : `Go on: ${next.title}`}
                </Link>
              </Button>
            ) : null}
          </article>
        )
      })}
      {files.length ? (
        <section aria-label="My files" className="mt-8 border-t border-line pt-6">
          <h2 className="text-xl">My files</h2>
          <ul className="mt-2">
            {files.map((f) => (
              <li key={f.stored} className="py-1.5">
                <Link className="text-slate underline [overflow-wrap:anywhere]" href={`/learn/file/${f.id}`}>
                  {f.name}
                </Link>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {also.length ? (
        <section aria-label="What else there is" className="mt-8 border-t border-line pt-6">
          <h2 className="text-xl">What else there is</h2>
          <ul className="mt-2">
            {also.map((o) => (
              <li key={o.id} className="py-1.5">
                <a className="text-slate underline" href={`/get/${o.id}`}>
                  {o.name}
                </a>
                <span className="block text-soft">{o.promise}</span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {ordered || pays ? (
        <p className="mt-8 flex flex-wrap gap-x-6 border-t border-line pt-6">
          {ordered ? <TextLink href="/learn/orders">My orders and receipts</TextLink> : null}
          {pays ? <TextLink href="/learn/plans">My plans and cards</TextLink> : null}
        </p>
      ) : null}
    </>
  )
}
