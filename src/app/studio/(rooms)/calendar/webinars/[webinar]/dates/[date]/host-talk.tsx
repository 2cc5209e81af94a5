"use client"
import { useState } from "react"
import type { SaidInRoom } from "@/server/webinar/talk"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextArea, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { useAction } from "@/ui/use-action"
import { answerAction, sayAsHostAction, settleSaidAction } from "../../../actions"

/** What is said in a room, from the host's chair. */
export function HostTalk({
  date,
  host,
  said,
  open,
}: {
  date: number
  host: string
  said: readonly SaidInRoom[]
  open: boolean
}) {
  const [once, renew] = useOnce()
  const { busy, refused, run } = useAction()
  const [words, setWords] = useState("")
  const [answering, setAnswering] = useState<SaidInRoom | null>(null)
  const settle = (id: number, how: "answered" | "hidden") => run(() => settleSaidAction(id, how))
  const waits = (m: SaidInRoom) => m.kind === "question" && !m.answered
  // Questions that wait come first, the latest of everything else after them.
  const shown = [...said.filter(waits), ...[...said].reverse().filter((m) => !waits(m))]
  const waiting = said.filter(waits).length
  return (
    <section aria-label="What is said" className="mt-4 border-t border-line pt-3">
      <h2 className="mb-2">
        {waiting === 0
          ? open
            ? "What is said"
            : "What was said"
          : waiting === 1
            ? "One question waits for an answer"
            : `${waiting} questions wait for an answer`}
      </h2>
      {open ? (
        <form
          className="flex items-start gap-3"
          onSubmit={(e) => {
            e.preventDefault()
            run(
              () => sayAsHostAction(date, words, once),
              () => {
                setWords("")
                renew()
              },
            )
          }}
        >
          <div className="flex-1">
            <TextField
              label="Say something to everybody"
              value={words}
              maxLength={500}
              error={refused || undefined}
              onChange={(e) => setWords(e.target.value)}
            />
          </div>
          <Button type="submit" look="primary" disabled={busy || !words.trim()} className="mt-6">
            Send
          </Button>
        </form>
      ) : null}
      {said.length === 0 ? (
        <p className="mt-4 text-soft">{open ? "Nothing has been said yet." : "Nothing was said."}</p>
      ) : (
        <ul className="mt-3">
          {shown.map((m) => (
            <li key={m.id} className="flex flex-wrap items-baseline gap-x-3 border-t border-line py-1.5">
              <span className="min-w-0 flex-1 [overflow-wrap:anywhere]" dir="auto">
                <bdi className="font-semibold">{m.registration === null ? host || "You" : m.name || "Somebody"}</bdi>
                {m.kind === "question" ? <span className="text-amber-text"> asks</span> : null}: {m.words}
              </span>
              {m.kind === "question" ? (
                m.answered ? (
                  <span className="text-note text-reed">{m.answer === null ? "answered" : "answered by e-mail"}</span>
                ) : (
                  <>
                    <Button look="quiet" disabled={busy} onClick={() => settle(m.id, "answered")}>
                      Mark answered
                    </Button>
                    <Button look="quiet" disabled={busy} onClick={() => setAnswering(m)}>
                      Answer by e-mail…
                    </Button>
                  </>
                )
              ) : null}
              <Button look="quiet" disabled={busy} onClick={() => settle(m.id, "hidden")}>
                Remove
              </Button>
            </li>
          ))}
        </ul>
      )}
      {answering ? <Answer to={answering} close={() => setAnswering(null)} /> : null}
    </section>
  )
}

/** An answer to a question, written to whoever asked it. */
function Answer({ to, close }: { to: SaidInRoom; close: () => void }) {
  const { busy, refused, run } = useAction()
  const [words, setWords] = useState("")
  return (
    <Dialog open onOpenChange={(is) => !is && close()} title={`Answer ${to.name || "them"} by e-mail`}>
      <p dir="auto" className="[overflow-wrap:anywhere]">
        “{to.words}”
      </p>
      <div className="mt-3">
        <TextArea
          label="Your answer"
          error={refused || undefined}
          rows={6}
          maxLength={2000}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </div>
      <p className="mt-4">
        <Button
          look="primary"
          disabled={busy || !words.trim()}
          onClick={() => run(() => answerAction(to.id, words), close)}
        >
          Send the answer
        </Button>
      </p>
    </Dialog>
  )
}
