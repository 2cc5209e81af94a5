"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { LessonRow } from "@/server/course/course"
import { Button } from "@/ui/button"
import { Clash } from "@/ui/clash"
import { SelectField, TextField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { moveLessonAction, removeLessonAction, saveLessonAction } from "../actions"
import { type EditorMedia, MediaField } from "./media-field"

const fields = {
  title: "Title",
  body: "Text",
  minutes: "Minutes",
  picture: "Picture",
  pictureAlt: "What it shows",
  video: "Video",
  file: "File to download",
  state: "Status",
}

export function LessonEditor({
  lesson,
  fresh,
  media,
  onUploaded,
  onRemoved,
}: {
  lesson: LessonRow
  /** It was added just now: its title waits to be written. */
  fresh: boolean
  media: readonly EditorMedia[]
  onUploaded: (m: EditorMedia) => void
  onRemoved: () => void
}) {
  const router = useRouter()
  const {
    value: l,
    set,
    saved,
    clash,
    turn,
  } = useShared(
    {
      revision: lesson.revision,
      value: {
        lesson: lesson.id,
        title: lesson.title,
        body: lesson.body,
        minutes: lesson.minutes,
        picture: lesson.picture_id,
        pictureAlt: lesson.picture_alt,
        video: lesson.video_id,
        file: lesson.file_id,
        state: lesson.state,
      },
    },
    async (value, before) => {
      const done = await saveLessonAction(value, before)
      if ("value" in done) router.refresh()
      return done
    },
  )
  const [busy, start] = useTransition()
  const [sure, setSure] = useState(false)
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  const act = (work: () => Promise<unknown>) =>
    start(async () => {
      await work()
      router.refresh()
    })
  return (
    <section aria-label="The lesson" className="rounded-lg border border-line bg-card p-5">
      <div className="mb-3 flex items-center justify-between gap-3">
        <h2 className="truncate">{l.title || "A lesson without a title"}</h2>
        <span
          role="status"
          className={`text-[0.9rem] whitespace-nowrap ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {saveWords(saved)}
        </span>
      </div>
      <Clash clash={clash} labels={fields} />
      <div className="grid gap-3 sm:grid-cols-[minmax(0,1fr)_6rem_9rem]">
        <TextField
          label="Title"
          value={l.title}
          maxLength={160}
          autoFocus={fresh}
          onFocus={(e) => fresh && e.target.select()}
          onChange={(e) => set({ ...l, title: e.target.value })}
          error={error("title")}
        />
        <TextField
          label="Minutes"
          type="number"
          min={0}
          max={600}
          value={l.minutes}
          onChange={(e) => set({ ...l, minutes: e.target.valueAsNumber || 0 })}
          error={error("minutes")}
        />
        <SelectField label="Status" value={l.state} onChange={(e) => set({ ...l, state: e.target.value as "draft" })}>
          <option value="draft">Draft</option>
          <option value="live">Live</option>
        </SelectField>
      </div>
      <div className="mt-4">
        <RichText key={turn} label="Text" value={l.body} onChange={(body) => set((now) => ({ ...now, body }))} />
      </div>
      <div className="mt-4 grid gap-4 sm:grid-cols-3">
        <div className="space-y-2">
          <MediaField
            kind="picture"
            label="Picture"
            value={l.picture}
            media={media}
            onUploaded={onUploaded}
            onChange={(picture) => set((now) => ({ ...now, picture }))}
          />
          {l.picture ? (
            <TextField
              label="What it shows"
              value={l.pictureAlt}
              maxLength={300}
              onChange={(e) => set({ ...l, pictureAlt: e.target.value })}
            />
          ) : null}
        </div>
        <MediaField
          kind="video"
          label="Video"
          value={l.video}
          media={media}
          onUploaded={onUploaded}
          onChange={(video) => set((now) => ({ ...now, video }))}
        />
        <MediaField
          kind="file"
          label="File to download"
          value={l.file}
          media={media}
          onUploaded={onUploaded}
          onChange={(file) => set((now) => ({ ...now, file }))}
        />
      </div>
      <div className="mt-5 flex flex-wrap gap-2 border-t border-line pt-3">
        <Button disabled={busy} onClick={() => act(() => moveLessonAction(lesson.id, "up"))}>
          Move up
        </Button>
        <Button disabled={busy} onClick={() => act(() => moveLessonAction(lesson.id, "down"))}>
          Move down
        </Button>
        <Button
          look="danger"
          disabled={busy}
          className="ml-auto"
          onClick={() => {
            if (!sure) return setSure(true)
            act(async () => {
              await removeLessonAction(lesson.id)
              onRemoved()
            })
          }}
        >
          {sure ? "Yes, remove it and who has done it" : "Remove the lesson"}
        </Button>
      </div>
    </section>
  )
}
