import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { lessonPage } from "@/core/page/lesson"
import { readLesson } from "@/server/course/course"
import { courseOfLesson, courseTitle } from "@/server/course/course-view"
import { readOutline } from "@/server/course/outline"
import { mediaNames } from "@/server/media/media-view"
import type { MediaKind } from "@/server/media/store"
import { offerCards } from "@/server/offer/shown"
import { keptHere } from "@/server/page/kept"
import { linkTargets } from "@/server/page/links"
import { schoolLook } from "@/server/school-view"
import { idOf } from "../../../asked"
import { LessonPageEditor } from "./editor"

export const metadata = { title: "Lesson" }

export default async function LessonPagePage({
  params,
  searchParams,
}: {
  params: Promise<{ lesson: string }>
  searchParams: Promise<{ block?: string }>
}) {
  const s = await studio()
  const lesson = idOf((await params).lesson)
  const id = (await courseOfLesson(s.db, lesson)) ?? 0
  const course = await courseTitle(s.db, id)
  const row = await readLesson(s.db, id, lesson)
  if (!course || !row) notFound()
  const media = await mediaNames(s.db, s.config)
  const of = (kind: MediaKind) => media.filter((m) => m.kind === kind)
  const lessons = (await readOutline(s.db, id)).filter((r) => r.kind === "lesson")
  const at = lessons.findIndex((l) => l.id === row.id)
  const neighbour = (n: number) => {
    const l = lessons[n]
    return l && { name: l.title || "Without a title", note: `${n + 1}`, href: `/studio/courses/lessons/${l.id}` }
  }
  return (
    <LessonPageEditor
      key={row.id}
      lesson={row.id}
      title={row.title}
      page={lessonPage(row)}
      revision={row.page_revision}
      course={course.title}
      home={`/studio/courses/${id}?lesson=${row.id}`}
      note={`${at + 1} of ${lessons.length}`}
      before={neighbour(at - 1)}
      after={neighbour(at + 1)}
      look={await schoolLook(s.db)}
      pictures={of("picture")}
      videos={of("video")}
      files={of("file")}
      offers={Object.values(await offerCards(s))}
      sections={await keptHere(s.db)}
      targets={await linkTargets(s.db)}
      firstBlock={(await searchParams).block ?? null}
    />
  )
}
