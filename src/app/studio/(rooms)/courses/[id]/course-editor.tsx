"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { CourseRow, LessonRow } from "@/server/course/course"
import type { OnOccasion } from "@/server/funnel/occasion"
import { Button } from "@/ui/button"
import { Clash } from "@/ui/clash"
import { Field, SelectField, TextField } from "@/ui/field"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import type { EffectChoices } from "../../add-effect"
import { SetsOff } from "../../sets-off"
import { newLessonAction, saveCourseAction } from "../actions"
import { LessonEditor } from "./lesson-editor"
import { type EditorMedia, MediaField } from "./media-field"

/** A course: its promise and state at the left, its lessons below, the lesson being written at the right. */
export function CourseEditor({
  course,
  lessons,
  media: given,
  selected,
  setsOff,
  choices,
}: {
  course: CourseRow
  lessons: readonly LessonRow[]
  media: readonly EditorMedia[]
  selected: number | null
  /** What hangs on the occasions of each lesson, by its number. */
  setsOff: Readonly<Record<number, readonly OnOccasion[]>>
  choices: EffectChoices
}) {
  const {
    value: c,
    set,
    saved,
    clash,
  } = useShared(
    {
      revision: course.revision,
      value: {
        course: course.id,
        title: course.title,
        promise: course.promise,
        teacher: course.teacher,
        picture: course.picture_id,
        state: course.state,
      },
    },
    saveCourseAction,
  )
  const [media, setMedia] = useState(given)
  const [open, setOpen] = useState(selected ?? lessons[0]?.id ?? null)
  const [added, setAdded] = useState<number | null>(null)
  const [busy, start] = useTransition()
  const router = useRouter()
  const lesson = lessons.find((l) => l.id === open)
  const live = lessons.filter((l) => l.state === "live").length
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  const add = (m: EditorMedia) => setMedia((all) => [m, ...all])
  return (
    <>
      <div className="mt-1 flex items-center gap-4">
        <h1 className="truncate">{c.title || "A course without a title"}</h1>
        <span
          className={`rounded-full px-2.5 py-0.5 text-[0.87rem] whitespace-nowrap ${c.state === "live" ? "bg-reed-wash text-reed" : "border border-line text-soft"}`}
        >
          {c.state === "live"
            ? `Live, ${live} of ${lessons.length} ${lessons.length === 1 ? "lesson" : "lessons"}`
            : "Draft, nobody sees it"}
        </span>
        <span
          role="status"
          className={`ml-auto text-[0.9rem] ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {saveWords(saved)}
        </span>
      </div>
      <Clash
        clash={clash}
        labels={{ title: "Title", promise: "Promise", teacher: "Teacher", picture: "Picture", state: "Status" }}
      />
      <div className="mt-4 grid gap-5 lg:grid-cols-[20rem_minmax(0,1fr)]">
        <div className="space-y-4">
          <section aria-label="The course" className="space-y-3">
            <TextField
              label="Title"
              value={c.title}
              maxLength={160}
              onChange={(e) => set({ ...c, title: e.target.value })}
              error={error("title")}
            />
            <Field label="Promise" hint="What people can do afterwards, in a sentence.">
              {(p) => (
                <textarea
                  {...p}
                  rows={3}
                  maxLength={400}
                  value={c.promise}
                  onChange={(e) => set({ ...c, promise: e.target.value })}
                />
              )}
            </Field>
            <TextField
              label="Teacher"
              value={c.teacher}
              maxLength={120}
              onChange={(e) => set({ ...c, teacher: e.target.value })}
            />
            <MediaField
              kind="picture"
              label="Picture"
              value={c.picture}
              media={media}
              onUploaded={add}
              onChange={(picture) => set({ ...c, picture })}
            />
            <SelectField
              label="Status"
              value={c.state}
              onChange={(e) => set({ ...c, state: e.target.value as "draft" })}
            >
              <option value="draft">Draft: nobody sees it</option>
              <option value="live">Live: whoever has an admission gets in</option>
            </SelectField>
          </section>
          <nav aria-label="Lessons" className="border-t border-line pt-3">
            <h2 className="mb-1">Lessons</h2>
            {lessons.length === 0 ? <p className="text-soft">There is none yet.</p> : null}
            <ol>
              {lessons.map((l, i) => (
                <li key={l.id}>
                  <button
                    type="button"
                    aria-pressed={l.id === open}
                    onClick={() => setOpen(l.id)}
                    className={`flex w-full items-baseline gap-2 rounded-md px-2 py-1.5 text-left ${l.id === open ? "bg-card ring-2 ring-amber" : "hover:bg-card"}`}
                  >
                    <span className="w-5 text-soft">{i + 1}</span>
                    <span className="min-w-0 flex-1 truncate">{l.title}</span>
                    <span className="text-[0.84rem] text-soft">
                      {l.state === "live" ? `${l.minutes} min` : "Draft"}
                    </span>
                  </button>
                </li>
              ))}
            </ol>
            <Button
              className="mt-2"
              disabled={busy}
              onClick={() =>
                start(async () => {
                  const done = await newLessonAction(course.id)
                  if (done.id) {
                    setOpen(done.id)
                    setAdded(done.id)
                  }
                  router.refresh()
                })
              }
            >
              Add a lesson
            </Button>
          </nav>
        </div>
        {lesson ? (
          <div className="min-w-0">
            <LessonEditor
              key={lesson.id}
              lesson={lesson}
              fresh={lesson.id === added}
              media={media}
              onUploaded={add}
              onRemoved={() => setOpen(lessons.find((l) => l.id !== lesson.id)?.id ?? null)}
            />
            <SetsOff of={lesson.id} name={`“${lesson.title}”`} on={setsOff[lesson.id] ?? []} choices={choices} />
          </div>
        ) : (
          <p className="rounded-lg border border-dashed border-line p-8 text-soft">
            Add the first lesson, and write it here.
          </p>
        )}
      </div>
    </>
  )
}
