"use client"

import { useState } from "react"
import type { QuoteRead } from "@/server/course/quote"
import { Button } from "@/ui/button"
import { TextArea, TextField } from "@/ui/field"
import { Link } from "@/ui/link"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { addQuoteAction, chooseQuoteAction, portrayQuoteAction } from "../../actions"
import { type EditorMedia, MediaField } from "../media-field"

type Shown = Omit<QuoteRead, "at"> & { readonly at: string }

/** What was said, what is new first; and a way to type in what was said elsewhere. */
export function QuoteList({
  course,
  quotes,
  media: given,
}: {
  course: number
  quotes: readonly Shown[]
  media: readonly EditorMedia[]
}) {
  const [media, setMedia] = useState(given)
  return (
    <>
      {quotes.length ? (
        <ul className="mt-3 border-b border-line">
          {quotes.map((q) => (
            <Row key={q.id} q={q} media={media} onUploaded={(m) => setMedia((all) => [m, ...all])} />
          ))}
        </ul>
      ) : (
        <p className="mt-3">Nobody has said anything yet.</p>
      )}
      <Add course={course} />
    </>
  )
}

function Row({
  q,
  media,
  onUploaded,
}: {
  q: Shown
  media: readonly EditorMedia[]
  onUploaded: (m: EditorMedia) => void
}) {
  const { busy, refused, run } = useAction()
  const shown = q.state === "shown"
  const portrait = media.find((m) => m.id === q.media_id)
  return (
    <li className="flex gap-4 border-t border-line py-3">
      <div className="min-w-0 flex-1">
        <p className="[overflow-wrap:anywhere]" dir="auto">
          “{q.words}”
        </p>
        <p className="mt-1 flex flex-wrap gap-x-3 text-note text-soft">
          {q.person_id === null ? (
            <bdi className="font-semibold text-ink">{q.name || "Without a name"}</bdi>
          ) : (
            <Link href={`/studio/people/${q.person_id}`} className="font-semibold text-slate hover:underline">
              <bdi>{q.name || "Without a name"}</bdi>
            </Link>
          )}
          <span>{q.at}</span>
          {q.state === "new" ? <strong className="text-amber-text">New</strong> : null}
          {shown ? <span className="text-reed">Shown</span> : null}
        </p>
        <p className="mt-1 text-note text-soft">They agreed: {q.consent}</p>
        <div className="mt-2 flex flex-wrap items-end gap-3">
          <Button
            look={q.state === "new" ? "primary" : "plain"}
            disabled={busy}
            onClick={() => run(() => chooseQuoteAction(q.id, !shown))}
          >
            {shown ? "Don’t show it" : "Show it"}
          </Button>
          {q.state === "new" ? (
            <Button disabled={busy} onClick={() => run(() => chooseQuoteAction(q.id, false))}>
              Don’t show it
            </Button>
          ) : null}
          {shown ? (
            <details>
              <summary className="cursor-pointer text-note text-slate">Portrait</summary>
              <MediaField
                kind="picture"
                label="Portrait"
                value={q.media_id}
                media={media}
                onUploaded={onUploaded}
                onChange={(m) => run(() => portrayQuoteAction(q.id, m))}
              />
            </details>
          ) : null}
        </div>
        <Refusal>{refused}</Refusal>
      </div>
      {portrait ? <img src={portrait.url} alt="" className="size-14 rounded-full object-cover" /> : null}
    </li>
  )
}

function Add({ course }: { course: number }) {
  const blank = { words: "", name: "", consent: "" }
  const [q, set] = useState(blank)
  const { busy, run, answer } = useAction()
  const error = (field: string) => (answer.field === field ? answer.refused : undefined)
  return (
    <details className="mt-6">
      <summary className="cursor-pointer font-semibold">Type in what was said elsewhere</summary>
      <form
        className="mt-3 space-y-3"
        onSubmit={(e) => {
          e.preventDefault()
          run(
            () => addQuoteAction({ ...q, course, media: null }),
            () => set(blank),
          )
        }}
      >
        <TextArea
          label="Their words"
          rows={3}
          maxLength={600}
          value={q.words}
          onChange={(e) => set({ ...q, words: e.target.value })}
          error={error("words")}
        />
        <TextField
          label="Name, as they want to be named"
          value={q.name}
          maxLength={120}
          onChange={(e) => set({ ...q, name: e.target.value })}
        />
        <TextField
          label="How you know that it may be shown"
          hint="Such as: by e-mail on 3 May."
          value={q.consent}
          maxLength={600}
          onChange={(e) => set({ ...q, consent: e.target.value })}
          error={error("consent")}
        />
        <Button type="submit" disabled={busy}>
          Add and show it
        </Button>
      </form>
    </details>
  )
}
