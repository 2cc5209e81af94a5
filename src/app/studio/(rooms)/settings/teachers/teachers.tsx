"use client"

import { useState } from "react"
import type { TeacherInput, TeacherRead } from "@/server/course/teacher"
import { Button } from "@/ui/button"
import { Clash } from "@/ui/clash"
import { Confirm } from "@/ui/confirm"
import { TextArea, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { type EditorMedia, MediaField } from "../../courses/[id]/media-field"
import { newTeacherAction, removeTeacherAction, saveTeacherAction } from "../actions"

const labels = { name: "Name", about: "About them", media: "Portrait" }

export function Teachers({
  teachers,
  media: given,
}: {
  teachers: readonly TeacherRead[]
  media: readonly EditorMedia[]
}) {
  const [media, setMedia] = useState(given)
  const [name, setName] = useState("")
  const { busy, run, refused } = useAction()
  const add = (m: EditorMedia) => setMedia((all) => [m, ...all])
  return (
    <div className="mt-4 space-y-8">
      {teachers.map((t) => (
        <Teacher key={t.id} teacher={t} media={media} onUploaded={add} />
      ))}
      <form
        className="flex flex-wrap items-end gap-3 border-t border-line pt-4"
        onSubmit={(e) => {
          e.preventDefault()
          run(
            () => newTeacherAction({ name, about: "", media: null }),
            () => setName(""),
          )
        }}
      >
        <div className="min-w-56 flex-1">
          <TextField label="Another teacher" value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
        </div>
        <Button type="submit" disabled={busy || !name.trim()}>
          Add
        </Button>
        <Refusal className="w-full">{refused}</Refusal>
      </form>
    </div>
  )
}

function Teacher({
  teacher,
  media,
  onUploaded,
}: {
  teacher: TeacherRead
  media: readonly EditorMedia[]
  onUploaded: (m: EditorMedia) => void
}) {
  const {
    value: t,
    set,
    saved,
    clash,
  } = useShared<TeacherInput>(teacher, (value, before) => saveTeacherAction(teacher.id, value, before))
  const portrait = media.find((m) => m.id === t.media)
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  return (
    <section aria-label={t.name} className="grid gap-4 border-t border-line pt-4 sm:grid-cols-[9rem_minmax(0,1fr)]">
      {portrait ? (
        <img src={portrait.url} alt="" className="aspect-square w-36 rounded-md object-cover" />
      ) : (
        <div className="grid aspect-square w-36 place-items-center rounded-md bg-shallow text-note text-soft">
          No portrait
        </div>
      )}
      <div className="space-y-3">
        <p role="status" className="text-note text-soft">
          {saveWords(saved)}
        </p>
        <Clash clash={clash} labels={labels} />
        <TextField
          label="Name"
          value={t.name}
          maxLength={120}
          onChange={(e) => set({ ...t, name: e.target.value })}
          error={error("name")}
        />
        <TextArea
          label="About them"
          rows={5}
          maxLength={2000}
          value={t.about}
          hint="Why one learns this from them. Each line is a paragraph."
          onChange={(e) => set({ ...t, about: e.target.value })}
        />
        <MediaField
          kind="picture"
          label="Portrait"
          value={t.media}
          media={media}
          onUploaded={onUploaded}
          onChange={(m) => set((now) => ({ ...now, media: m }))}
        />
        <Confirm opens="Remove" title={`Remove ${t.name}?`} does="Remove" act={() => removeTeacherAction(teacher.id)}>
          Pages show them no longer once they are published again.
        </Confirm>
      </div>
    </section>
  )
}
