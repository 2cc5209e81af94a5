"use client"
import { useState } from "react"
import type { HandInListed } from "@/server/course/hand-in"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { answerHandInAction } from "../../actions"

type Shown = Omit<HandInListed, "at" | "file"> & {
  readonly at: string
  readonly file: { readonly name: string; readonly link: string } | null
}

const stateWords = { waiting: "Waits for you", accepted: "Accepted", again: "Asked for again" } as const

export function HandInList({ all }: { all: readonly Shown[] }) {
  return (
    <ul className="border-b border-line">
      {all.map((h) => (
        <Row key={h.id} h={h} />
      ))}
    </ul>
  )
}

function Row({ h }: { h: Shown }) {
  const { busy, refused, run } = useAction()
  const [answer, setAnswer] = useState("")
  const give = (accepted: boolean) => run(() => answerHandInAction(h.id, { accepted, answer }))
  return (
    <li className="border-t border-line py-3">
      <p className="flex flex-wrap items-baseline gap-x-3 text-note text-soft">
        <Link href={`/studio/people/${h.person}`} className="font-semibold text-slate hover:underline">
          <bdi>{h.name}</bdi>
        </Link>
        <span>{h.title}</span>
        <span>{h.at}</span>
        <strong
          className={h.state === "waiting" ? "text-amber-text" : h.state === "accepted" ? "text-reed" : "text-ink"}
        >
          {stateWords[h.state]}
        </strong>
      </p>
      <p className="mt-1 whitespace-pre-line [overflow-wrap:anywhere]">{h.body}</p>
      {h.file ? (
        <p className="mt-1">
          <a href={h.file.link} download className="text-slate underline [overflow-wrap:anywhere]">
            {h.file.name}
          </a>
        </p>
      ) : null}
      {h.state === "waiting" ? (
        <div className="mt-2 space-y-2">
          <textarea
            aria-label={`Answer to ${h.name}`}
            rows={3}
            maxLength={4000}
            value={answer}
            placeholder="What you want to say to it"
            onChange={(e) => setAnswer(e.target.value)}
            className="w-full rounded-md border border-line bg-card px-2.5 py-1.5"
          />
          <Refusal>{refused}</Refusal>
          <p className="flex gap-2">
            <Button look="primary" disabled={busy} onClick={() => give(true)}>
              Accept
            </Button>
            <Button disabled={busy} onClick={() => give(false)}>
              Once more
            </Button>
          </p>
        </div>
      ) : h.answer ? (
        <p className="mt-1 border-l-2 border-line pl-3 whitespace-pre-line text-soft [overflow-wrap:anywhere]">
          {h.answer}
        </p>
      ) : null}
    </li>
  )
}
