"use client"
import { useState } from "react"
import type { CommentListed } from "@/server/course/talk"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { answerCommentAction, commentStateAction } from "../../actions"

type Shown = Omit<CommentListed, "at"> & { readonly at: string }

/** What learners wrote, those that wait for the school first. */
export function CommentList({ course, comments }: { course: number; comments: readonly Shown[] }) {
  return (
    <ul className="border-b border-line">
      {comments.map((c) => (
        <Row key={c.id} course={course} c={c} />
      ))}
    </ul>
  )
}

function Row({ course, c }: { course: number; c: Shown }) {
  const { busy, refused, run } = useAction()
  const [answer, setAnswer] = useState<string | null>(null)
  const act = (work: () => Promise<{ refused?: string }>) => run(work, () => setAnswer(null))
  return (
    <li className="border-t border-line py-3">
      <p className="flex flex-wrap items-baseline gap-x-3 text-note text-soft">
        {c.person === null ? (
          <bdi className="font-semibold text-ink">{c.name}</bdi>
        ) : (
          <Link href={`/studio/people/${c.person}`} className="font-semibold text-slate hover:underline">
            <bdi>{c.name}</bdi>
          </Link>
        )}
        <Link href={`/studio/courses/${course}?lesson=${c.lesson}`} className="hover:underline">
          {c.title}
        </Link>
        <span>{c.at}</span>
        {c.state === "waiting" ? <strong className="text-amber-text">Waits for you</strong> : null}
        {c.state === "hidden" ? <span>Hidden</span> : null}
        {c.answered ? <span className="text-reed">Answered</span> : null}
      </p>
      <p className="mt-1 whitespace-pre-line [overflow-wrap:anywhere]">{c.body}</p>
      {answer === null ? (
        <p className="mt-2 flex flex-wrap gap-2">
          <Button className="min-h-8" onClick={() => setAnswer("")}>
            Answer
          </Button>
          {c.state === "shown" ? null : (
            <Button className="min-h-8" disabled={busy} onClick={() => act(() => commentStateAction(c.id, "shown"))}>
              Show it
            </Button>
          )}
          {c.state === "hidden" ? null : (
            <Button
              look="danger"
              className="min-h-8"
              disabled={busy}
              onClick={() => act(() => commentStateAction(c.id, "hidden"))}
            >
              Hide it
            </Button>
          )}
        </p>
      ) : (
        <div className="mt-2 space-y-2">
          <textarea
            aria-label={`Answer to ${c.name}`}
            rows={3}
            maxLength={4000}
            value={answer}
            onChange={(e) => setAnswer(e.target.value)}
            className="w-full rounded-md border border-line bg-card px-2.5 py-1.5"
          />
          <Refusal>{refused}</Refusal>
          <p className="flex gap-2">
            <Button
              look="primary"
              disabled={busy || !answer.trim()}
              onClick={() => act(() => answerCommentAction(c.id, answer))}
            >
              Answer
            </Button>
            <Button onClick={() => setAnswer(null)}>Cancel</Button>
          </p>
        </div>
      )}
    </li>
  )
}
