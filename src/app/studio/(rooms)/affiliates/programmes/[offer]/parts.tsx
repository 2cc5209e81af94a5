"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { Bonus } from "@/server/affiliate/bonus"
import type { Material } from "@/server/programme/programme"
import { Button } from "@/ui/button"
import { CopyButton } from "@/ui/copy-button"
import { Dialog } from "@/ui/dialog"
import { binder, option, SelectField, TextArea, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { type EditorMedia, MediaField } from "../../../courses/[id]/media-field"
import {
  allowBonusAction,
  conditionsAction,
  type Done,
  materialAction,
  removeBonusAction,
  removeMaterialAction,
} from "../../actions"

type Named = { readonly id: number; readonly name: string }

/** The link by which anybody who has it is invited. */
export function Invitation({ link, on }: { link: string; on: boolean }) {
  return (
    <section aria-label="Invitation link">
      <h2>Invitation link</h2>
      <p className="mt-1 text-soft">
        {on
          ? "Whoever opens it can join at once, without being approved."
          : "It works while the programme is on: whoever opens it can join at once."}
      </p>
      <p className="mt-1.5 flex items-start gap-2">
        <code className="min-w-0 flex-1 text-fine [overflow-wrap:anywhere]">{link}</code>
        <CopyButton text={link} label="Copy the invitation link" />
      </p>
    </section>
  )
}

export function Conditions({ offer, words: first, says }: { offer: number; words: string; says: string }) {
  const [words, setWords] = useState(first)
  const [done, setDone] = useState<Done>({})
  const [busy, start] = useTransition()
  const router = useRouter()
  const changed = words.trim() !== first
  return (
    <section aria-label="Conditions">
      <h2>Conditions</h2>
      <p className="mt-1 text-soft">{says}</p>
      <form
        className="mt-2 space-y-2"
        onSubmit={(e) => {
          e.preventDefault()
          start(async () => {
            setDone(await conditionsAction(offer, words))
            router.refresh()
          })
        }}
      >
        <TextArea
          label="What affiliates agree to"
          error={done.refused}
          rows={8}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        {changed ? (
          <p className="text-note">
            {first ? "Everybody has to agree anew before they are paid again." : "Everybody is asked to agree."}
          </p>
        ) : null}
        <Button type="submit" look={changed ? "primary" : "plain"} disabled={busy || !changed}>
          Put these conditions in force
        </Button>
      </form>
    </section>
  )
}

/** Words and pictures that are ready to use. */
export function Materials({
  offer,
  all,
  pages,
  media: given,
}: {
  offer: number
  all: readonly Material[]
  pages: readonly Named[]
  media: readonly EditorMedia[]
}) {
  const [open, setOpen] = useState<{ kind: "words" | "picture"; from: Material | null } | null>(null)
  const [media, setMedia] = useState(given)
  const { busy, run } = useAction()
  const router = useRouter()
  return (
    <section aria-label="Ready to use" className="mt-10">
      <div className="flex flex-wrap items-baseline justify-between gap-4">
        <h2>Words and pictures ready to use</h2>
        <div className="flex gap-2">
          <Button onClick={() => setOpen({ kind: "words", from: null })}>Add words</Button>
          <Button onClick={() => setOpen({ kind: "picture", from: null })}>Add a picture</Button>
        </div>
      </div>
      {all.length === 0 ? (
        <p className="mt-2 text-lg">
          Nothing yet. A few lines to copy and one picture are what most affiliates ask for first.
        </p>
      ) : (
        <ul className="mt-2">
          {all.map((m) => (
            <li key={m.id} className="flex items-start gap-4 border-t border-line py-2.5">
              {m.stored ? (
                <img src={`/media/${m.stored}`} alt="" className="h-16 w-24 shrink-0 rounded object-cover" />
              ) : null}
              <div className="min-w-0 flex-1">
                <p className="font-semibold [overflow-wrap:anywhere]">{m.title}</p>
                <p className="line-clamp-2 text-body whitespace-pre-line text-soft">{m.words}</p>
              </div>
              <div className="flex gap-2">
                <Button aria-label={`Change “${m.title}”`} onClick={() => setOpen({ kind: m.kind, from: m })}>
                  Change
                </Button>
                <Button
                  aria-label={`Remove “${m.title}”`}
                  disabled={busy}
                  onClick={() => run(() => removeMaterialAction(offer, m.id))}
                >
                  Remove
                </Button>
              </div>
            </li>
          ))}
        </ul>
      )}
      <Dialog
        open={open !== null}
        onOpenChange={() => setOpen(null)}
        title={open?.kind === "picture" ? "A picture" : "Words"}
        wide
      >
        {open ? (
          <MaterialForm
            offer={offer}
            kind={open.kind}
            from={open.from}
            pages={pages}
            media={media}
            onUploaded={(m) => setMedia((x) => [m, ...x])}
            onDone={() => {
              setOpen(null)
              router.refresh()
            }}
          />
        ) : null}
      </Dialog>
    </section>
  )
}

function MaterialForm({
  offer,
  kind,
  from,
  pages,
  media,
  onUploaded,
  onDone,
}: {
  offer: number
  kind: "words" | "picture"
  from: Material | null
  pages: readonly Named[]
  media: readonly EditorMedia[]
  onUploaded: (m: EditorMedia) => void
  onDone: () => void
}) {
  const [f, set] = useState({
    title: from?.title ?? "",
    words: from?.words ?? "",
    media: from?.media ?? null,
    step: from?.step ?? null,
  })
  const [once] = useOnce()
  const { busy, answer: done, run } = useAction()
  const error = (field: string) => (done.field === field ? done.refused : undefined)
  const typed = binder(f, set, error)
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        run(() => materialAction(offer, { id: from?.id ?? null, kind, ...f }, once), onDone)
      }}
    >
      <TextField
        label="Title"
        {...typed("title")}
        maxLength={120}
        placeholder={kind === "words" ? "Three lines for a letter" : "Jars on a shelf"}
      />
      {kind === "picture" ? (
        <>
          <MediaField
            kind="picture"
            label="Picture"
            value={f.media}
            media={media}
            onChange={(id) => set((now) => ({ ...now, media: id }))}
            onUploaded={onUploaded}
          />
          <Refusal>{error("media")}</Refusal>
        </>
      ) : (
        <TextArea
          label="Words"
          hint="Where it says ‹my link›, the affiliate’s own link stands; without it the link comes at the end."
          rows={7}
          maxLength={4000}
          {...typed("words")}
        />
      )}
      <SelectField
        label="Its link leads to"
        value={f.step ?? ""}
        onChange={(e) => set({ ...f, step: Number(e.target.value) || null })}
      >
        <option value="">where the programme says</option>
        {pages.map((p) => option(p.id, p.name))}
      </SelectField>
      <Button type="submit" look="primary" disabled={busy}>
        Save
      </Button>
      <Refusal>{!done.field && done.refused}</Refusal>
    </form>
  )
}

/** What affiliates may give to whoever buys through them. */
export function Bonuses({
  offer,
  all,
  courses,
  lessons,
  files,
}: {
  offer: number
  all: readonly Bonus[]
  courses: readonly Named[]
  lessons: readonly Named[]
  files: readonly Named[]
}) {
  const [kind, setKind] = useState<"course" | "lesson" | "media">("media")
  const [chosen, setChosen] = useState("")
  const [once, renew] = useOnce()
  const { busy, answer: done, run } = useAction()
  const list = { course: courses, lesson: lessons, media: files }[kind]
  return (
    <section aria-label="Bonuses" className="mt-10">
      <h2>Bonuses they may give</h2>
      <p className="mt-1 max-w-2xl text-soft">
        Each affiliate chooses among these what whoever buys through them gets as well; files of their own they send up
        for you to approve.
      </p>
      <ul className="mt-2">
        {all.map((b) => (
          <li key={b.id} className="flex flex-wrap items-center justify-between gap-x-4 border-t border-line py-1.5">
            <span className="min-w-0 truncate">
              {b.name} <span className="text-soft">({b.course ? "course" : b.lesson ? "lesson" : "file"})</span>
            </span>
            <Button
              aria-label={`Remove “${b.name}”`}
              disabled={busy}
              onClick={() => run(() => removeBonusAction(offer, b.id))}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="mt-2 flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          const id = Number(chosen) || list[0]?.id || null
          run(
            () =>
              allowBonusAction(
                offer,
                {
                  course: kind === "course" ? id : null,
                  lesson: kind === "lesson" ? id : null,
                  media: kind === "media" ? id : null,
                },
                once,
              ),
            renew,
          )
        }}
      >
        <div className="w-32">
          <SelectField
            label="Kind"
            value={kind}
            onChange={(e) => {
              setKind(e.target.value as typeof kind)
              setChosen("")
            }}
          >
            <option value="media">a file</option>
            <option value="lesson">a lesson</option>
            <option value="course">a course</option>
          </SelectField>
        </div>
        <div className="min-w-56 flex-1">
          <SelectField label="Which" value={chosen} onChange={(e) => setChosen(e.target.value)} error={done.refused}>
            {list.length === 0 ? <option value="">there is none yet</option> : null}
            {list.map((x) => option(x.id, x.name))}
          </SelectField>
        </div>
        <Button type="submit" disabled={busy || list.length === 0}>
          Allow it
        </Button>
      </form>
    </section>
  )
}
