"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import type { LessonInput } from "@/server/course/course"
import { Check } from "@/ui/check"
import { Clash } from "@/ui/clash"
import { SelectField, TextField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { saveLessonAction } from "../actions"
import { type EditorMedia, MediaField } from "./media-field"
import { DoneByField, OpensField } from "./rule-fields"

const fields = {
  title: "Title",
  body: "Text",
  minutes: "Minutes",
  picture: "Picture",
  pictureAlt: "What it shows",
  video: "Video",
  file: "File to download",
  state: "Status",
  opens: "Opens",
  free: "Free taste",
  required: "Required",
  doneBy: "Done when",
}

export function LessonEditor({
  lesson,
  media: given,
  others,
}: {
  lesson: Versioned<LessonInput>
  media: readonly EditorMedia[]
  /** The other lessons of the course, which this one may wait for. */
  others: readonly { readonly id: number; readonly title: string }[]
}) {
  const router = useRouter()
  const {
    value: l,
    set,
    saved,
    clash,
    turn,
  } = useShared(lesson, async (value, before) => {
    const done = await saveLessonAction(value, before)
    if ("value" in done) router.refresh()
    return done
  })
  const [media, setMedia] = useState(given)
  const onUploaded = (m: EditorMedia) => setMedia((all) => [m, ...all])
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
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
      <div className="mt-4 grid gap-x-4 gap-y-3 border-t border-line pt-4 sm:grid-cols-2">
        <OpensField
          label="Opens"
          value={l.opens}
          inherits="as its module and course say"
          lessons={others}
          error={error("opens")}
          onChange={(opens) => set((now) => ({ ...now, opens }))}
        />
        <DoneByField
          value={l.doneBy}
          inherits="as the course says"
          onChange={(doneBy) => set((now) => ({ ...now, doneBy }))}
        />
        <Check
          checked={l.free}
          onChange={(free) => set((now) => ({ ...now, free }))}
          hint="Open to everybody, without signing in."
        >
          A free taste
        </Check>
        <Check
          checked={l.required}
          onChange={(required) => set((now) => ({ ...now, required }))}
          hint="Must be done before what follows, where the course goes in order."
        >
          Required
        </Check>
      </div>
    </section>
  )
}
