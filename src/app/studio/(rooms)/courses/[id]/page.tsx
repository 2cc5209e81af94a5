import { studio } from "@/app/guard"
import { blockKinds } from "@/core/page/block/list"
import { allBlocks } from "@/core/page/document"
import { lessonGaps, lessonPage } from "@/core/page/lesson"
import { readLesson, storedLesson } from "@/server/course/course"
import { lessonLength, readOutline } from "@/server/course/outline"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { idOf } from "../../asked"
import { SetsOff } from "../../sets-off"
import { LessonEditor } from "./lesson-editor"
import { OutlineEditor } from "./outline-editor"

export const metadata = { title: "Course" }

export default async function CoursePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>
  searchParams: Promise<{ lesson?: string }>
}) {
  const s = await studio()
  const id = idOf((await params).id)
  const rows = await readOutline(s.db, id)
  const asked = Number((await searchParams).lesson) || null
  const first = rows.find((r) => r.kind === "lesson")?.id ?? null
  // The first one where none is asked for. Nobody is led elsewhere for it: they may be writing in the outline just now.
  const found = asked === null ? undefined : await readLesson(s.db, id, asked)
  const lesson = found ?? (first === null ? undefined : await readLesson(s.db, id, first))
  const page = lesson && lessonPage(lesson)
  return (
    <div className="mt-4 grid grid-cols-1 gap-6 lg:grid-cols-[minmax(0,26rem)_minmax(0,1fr)]">
      <OutlineEditor course={id} rows={rows} length={await lessonLength(s.db, id)} open={lesson?.id ?? null} />
      {lesson ? (
        <div className="min-w-0">
          <LessonEditor
            key={lesson.id}
            lesson={storedLesson(lesson)}
            page={`/studio/courses/lessons/${lesson.id}`}
            parts={[...allBlocks(page?.blocks ?? [])].map((b) => ({
              id: b.id,
              name: blockKinds[b.kind].name,
              line: blockKinds[b.kind].line(b),
            }))}
            counted={Math.ceil(lesson.seconds / 60)}
            gaps={page ? lessonGaps(page) : []}
            others={rows.flatMap((r) =>
              r.kind === "lesson" && r.id !== null && r.id !== lesson.id ? [{ id: r.id, title: r.title }] : [],
            )}
          />
          <SetsOff
            of={lesson.id}
            name={`“${lesson.title}”`}
            on={await effectsAbout(s.db, "lesson", lesson.id)}
            choices={await effectChoices(s.db)}
          />
        </div>
      ) : (
        <p className="rounded-lg border border-dashed border-line p-8 text-soft">
          Write the first lesson’s title at the left. Once it is there, open it to fill it.
        </p>
      )}
    </div>
  )
}
