"use client"
import { useState } from "react"
import type { PollSeen } from "@/server/webinar/poll"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextArea, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { useAction } from "@/ui/use-action"
import { askPollAction, closePollAction } from "../../../actions"

/** What was asked in the room, what it came to, and something more to be asked on the spot. */
export function HostPolls({ date, polls, open }: { date: number; polls: readonly PollSeen[]; open: boolean }) {
  const { busy, run } = useAction()
  const [asking, setAsking] = useState(false)
  if (!polls.length && !open) return null
  return (
    <section aria-label="Polls" className="mt-4 border-t border-line pt-3">
      <div className="flex items-baseline justify-between gap-3">
        <h2>Polls</h2>
        {open ? <Button onClick={() => setAsking(true)}>Ask a poll…</Button> : null}
      </div>
      {polls.map((p) => {
        const all = p.votes.reduce((sum, n) => sum + n, 0)
        return (
          <div key={p.id} className="border-t border-line py-2 first-of-type:border-0">
            <p className="flex items-baseline justify-between gap-3">
              <strong dir="auto">{p.question}</strong>
              {p.closed || !open ? (
                <span className="text-note text-soft">closed</span>
              ) : (
                <Button look="quiet" disabled={busy} onClick={() => run(() => closePollAction(p.id))}>
                  Close it
                </Button>
              )}
            </p>
            <ul>
              {p.answers.map((a, i) => (
                <li key={a} className="grid grid-cols-[minmax(0,14rem)_1fr_6rem] items-center gap-3 text-body">
                  <span dir="auto" className="truncate">
                    {a}
                  </span>
                  <span aria-hidden className="h-2 bg-line">
                    <span className="block h-2 bg-water" style={{ width: `${all ? (100 * p.votes[i]!) / all : 0}%` }} />
                  </span>
                  <span className="text-right tabular-nums">
                    {p.votes[i]} of {all}
                  </span>
                </li>
              ))}
            </ul>
          </div>
        )
      })}
      {asking ? <Ask date={date} close={() => setAsking(false)} /> : null}
    </section>
  )
}

function Ask({ date, close }: { date: number; close: () => void }) {
  const { busy, refused, run } = useAction()
  const [question, setQuestion] = useState("")
  const [answers, setAnswers] = useState("Yes\nNo")
  const [once] = useOnce()
  return (
    <Dialog open onOpenChange={(is) => !is && close()} title="Ask a poll">
      <div className="space-y-3">
        <TextField
          label="Question"
          value={question}
          maxLength={200}
          error={refused || undefined}
          onChange={(e) => setQuestion(e.target.value)}
        />
        <TextArea label="Answers, one a line" rows={4} value={answers} onChange={(e) => setAnswers(e.target.value)} />
      </div>
      <p className="mt-4">
        <Button
          look="primary"
          disabled={busy || !question.trim()}
          onClick={() => {
            const lines = answers.split("\n").flatMap((a) => a.trim() || [])
            run(
              () => askPollAction(date, { question, answers: lines }, once),
              () => close(),
            )
          }}
        >
          Ask it now
        </Button>
      </p>
    </Dialog>
  )
}
