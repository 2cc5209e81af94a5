"use client"

import { useState } from "react"
import type { Gift } from "@/core/offer/offer"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import type { EditorMedia } from "../../courses/[id]/media-field"
import { Upload } from "../../upload"

const kindWords = { course: "course", file: "file", offer: "all of the offer", post: "by post" } as const

/** What an offer gives, in a list that can be added to and taken from. */
export function GiftList({
  gifts,
  courses,
  media,
  offers,
  error,
  onChange,
  onUploaded,
}: {
  gifts: readonly Gift[]
  courses: readonly { id: number; title: string; state: string }[]
  media: readonly EditorMedia[]
  offers: readonly { id: number; name: string }[]
  error: string | undefined
  onChange: (gifts: readonly Gift[]) => void
  onUploaded: (media: EditorMedia) => void
}) {
  const [post, setPost] = useState("")
  const [uploading, setUploading] = useState(false)
  const has = (g: Gift) => gifts.some((x) => keyOf(x) === keyOf(g))
  const add = (g: Gift) => (has(g) ? undefined : onChange([...gifts, g]))
  const choices: { group: string; gifts: Gift[] }[] = [
    {
      group: "Courses",
      gifts: courses.map((c) => ({
        kind: "course",
        course: c.id,
        title: c.title,
        state: c.state === "live" ? "live" : "draft",
        lessons: 1,
      })),
    },
    {
      group: "Files",
      gifts: media.filter((m) => m.kind === "file").map((m) => ({ kind: "file", media: m.id, title: m.name })),
    },
    {
      group: "Everything in another offer",
      gifts: offers.map((o) => ({ kind: "offer", offer: o.id, title: o.name })),
    },
  ]
  const all = choices.flatMap((c) => c.gifts)
  return (
    <div className="space-y-3">
      {gifts.length === 0 ? (
        <p className="text-[0.95rem] text-amber-text">Nothing yet: whoever takes it gets nothing for it.</p>
      ) : (
        <ul>
          {gifts.map((g) => (
            <li key={keyOf(g)} className="flex items-baseline gap-3 border-t border-line py-1.5 first:border-0">
              <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">{g.title}</span>
              <span className="text-[0.87rem] text-soft">
                {kindWords[g.kind]}
                {g.kind === "course" && g.state === "draft" ? ", a draft" : ""}
              </span>
              <button
                type="button"
                aria-label={`Take out: ${g.title}`}
                className="px-1.5 text-soft hover:text-dusk"
                onClick={() => onChange(gifts.filter((x) => keyOf(x) !== keyOf(g)))}
              >
                ×
              </button>
            </li>
          ))}
        </ul>
      )}
      {error ? (
        <p role="alert" className="text-[0.84rem] font-semibold text-dusk">
          {error}
        </p>
      ) : null}
      <SelectField
        label="Add"
        value=""
        onChange={(e) => {
          const chosen = all.find((g) => keyOf(g) === e.target.value)
          if (chosen) add(chosen)
          if (e.target.value === "upload") setUploading(true)
        }}
      >
        <option value="">Choose…</option>
        {choices.map((c) =>
          c.gifts.length ? (
            <optgroup key={c.group} label={c.group}>
              {c.gifts.map((g) => (
                <option key={keyOf(g)} value={keyOf(g)} disabled={has(g)}>
                  {g.title}
                </option>
              ))}
            </optgroup>
          ) : null,
        )}
        <option value="upload">A file from this computer…</option>
      </SelectField>
      {uploading ? (
        <Upload
          kind="file"
          onDone={(done) => {
            onUploaded({ ...done, kind: "file" })
            add({ kind: "file", media: done.id, title: done.name })
            setUploading(false)
          }}
        />
      ) : null}
      <form
        className="flex items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          if (post.trim()) add({ kind: "post", title: post.trim() })
          setPost("")
        }}
      >
        <div className="flex-1">
          <TextField label="Sent by post" value={post} maxLength={200} onChange={(e) => setPost(e.target.value)} />
        </div>
        <Button type="submit">Add</Button>
      </form>
    </div>
  )
}

function keyOf(g: Gift): string {
  return `${g.kind}:${g.kind === "course" ? g.course : g.kind === "file" ? g.media : g.kind === "offer" ? g.offer : g.title}`
}
