"use client"

import { useState, useTransition } from "react"
import { type LetterFinding, phonePreview, phoneSubject, textOf } from "@/core/mail/check"
import { plainChips } from "@/core/mail/chip"
import type { LetterPreview, LetterTyped } from "@/server/mail/try-letter"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { useAsked } from "@/ui/use-asked"
import { checkLetterAction, previewLetterAction, testLetterAction } from "./letter-actions"
import { findingSays } from "./letter-words"

const plain = (line: string) => line.replace(plainChips, (_, label, otherwise) => otherwise ?? label)
const cut = (line: string, most: number) => {
  const letters = [...line]
  return letters.length > most ? `${letters.slice(0, most - 1).join("")}…` : line
}

/** Beside an e-mail that is being written: how an inbox shows it, what is to be seen to, how it looks, and a test. */
export function LetterAside({ letter }: { letter: LetterTyped }) {
  const { answer: findings } = useAsked<LetterTyped, readonly LetterFinding[] | null>(letter, null, checkLetterAction)
  const [opened, setOpened] = useState<LetterPreview | null>(null)
  const [whom, setWhom] = useState("")
  const [shown, setShown] = useState<"wide" | "phone" | "text">("phone")
  const [said, setSaid] = useState("")
  const [busy, start] = useTransition()
  const look = (name: string) =>
    start(async () => {
      const came = await previewLetterAction(letter, name)
      if ("refused" in came) setSaid(came.refused)
      else {
        setSaid("")
        setOpened(came)
      }
    })
  return (
    <section aria-label="The e-mail as it comes" className="space-y-4">
      <div>
        <h3 className="text-label font-semibold">In a phone’s inbox</h3>
        <div className="mt-1 rounded-md border border-line bg-card p-3 text-body">
          <p className="truncate font-semibold">{cut(plain(letter.subject), phoneSubject) || "No subject"}</p>
          <p className="truncate text-soft">{cut(plain(letter.preview) || textOf(letter.body), phonePreview) || "…"}</p>
        </div>
      </div>
      <div>
        <h3 className="text-label font-semibold">Before it goes</h3>
        {findings === null ? (
          <p className="mt-1 text-soft">Looking…</p>
        ) : findings.length === 0 ? (
          <p className="mt-1 text-reed">Nothing is amiss.</p>
        ) : (
          <ul className="mt-1 space-y-1">
            {findings.map((f) => (
              <li
                key={`${f.rule} ${f.data}`}
                className={`rounded-md border px-2.5 py-1.5 text-note ${f.stops ? "border-dusk font-semibold text-dusk" : "border-amber bg-amber-wash"}`}
              >
                {findingSays(f)}
              </li>
            ))}
          </ul>
        )}
      </div>
      <div className="flex flex-wrap gap-2">
        <Button disabled={busy} onClick={() => look("")}>
          Preview
        </Button>
        <Button
          disabled={busy}
          onClick={() =>
            start(async () => {
              const came = await testLetterAction(letter)
              setSaid("refused" in came ? came.refused : `A test is on its way to ${came.sent}.`)
            })
          }
        >
          Test to me
        </Button>
      </div>
      <p role="status" className="text-note">
        {said}
      </p>
      <Dialog open={opened !== null} onOpenChange={() => setOpened(null)} title={opened?.subject || "No subject"} wide>
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault()
            look(whom)
          }}
        >
          <div className="min-w-56 flex-1">
            <TextField
              label="As this person gets it"
              value={whom}
              placeholder="Name or address; empty: nothing is known"
              onChange={(e) => setWhom(e.target.value)}
              error={said || undefined}
            />
          </div>
          <Button type="submit" disabled={busy}>
            Show
          </Button>
          {(["phone", "wide", "text"] as const).map((x) => (
            <Button
              key={x}
              look={x === shown ? "primary" : "plain"}
              aria-pressed={x === shown}
              onClick={() => setShown(x)}
            >
              {{ phone: "Phone", wide: "Wide", text: "Plain text" }[x]}
            </Button>
          ))}
        </form>
        <p className="mt-2 text-note text-soft">From {opened?.from}</p>
        {shown === "text" ? (
          <pre className="mt-3 max-h-[55vh] overflow-auto rounded-md border border-line bg-paper p-3 text-label whitespace-pre-wrap">
            {opened?.text}
          </pre>
        ) : (
          <iframe
            title="The e-mail"
            sandbox=""
            srcDoc={opened?.html}
            className={`mx-auto mt-3 block h-[55vh] rounded-md border border-line bg-white ${shown === "phone" ? "w-[22.5rem] max-w-full" : "w-full"}`}
          />
        )}
      </Dialog>
    </section>
  )
}
