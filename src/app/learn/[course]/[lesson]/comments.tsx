"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { Comment } from "@/server/course/talk"
import { Button } from "@/ui/button"
import { useOnce } from "@/ui/once"
import { useAction } from "@/ui/use-action"
import { addCommentAction, removeCommentAction } from "../../actions"

type Shown = Omit<Comment, "at"> & { readonly at: string }

/** What learners say below a lesson, with answers. */
export function Comments({
  slug,
  lesson,
  comments,
  moderated,
}: {
  slug: string
  lesson: number
  comments: readonly Shown[]
  moderated: boolean
}) {
  const [answering, setAnswering] = useState<number | null>(null)
  const tops = comments.filter((c) => c.answers === null)
  return (
    <section aria-label="Comments" className="mt-8 border-t border-line pt-4">
      <h2 className="text-xl">Comments</h2>
      {tops.map((c) => (
        <div key={c.id} className="mt-4">
          <One c={c} />
          <div className="mt-2 ml-4 space-y-3 border-l-2 border-line pl-4">
            {comments
              .filter((a) => a.answers === c.id)
              .map((a) => (
                <One key={a.id} c={a} />
              ))}
            {answering === c.id ? (
              <Write
                slug={slug}
                lesson={lesson}
                answers={c.id}
                moderated={moderated}
                onDone={() => setAnswering(null)}
              />
            ) : c.waiting ? null : (
              <button type="button" className="min-h-8 text-body text-slate" onClick={() => setAnswering(c.id)}>
                Answer<span className="sr-only"> {c.name}</span>
              </button>
            )}
          </div>
        </div>
      ))}
      <Write slug={slug} lesson={lesson} answers={null} moderated={moderated} />
    </section>
  )
}

function One({ c }: { c: Shown }) {
  const { busy, run } = useAction()
  return (
    <div>
      <p className="text-body text-soft">
        <bdi className={`font-bold ${c.school ? "text-reed" : "text-ink"}`}>{c.name}</bdi>
        {c.school ? ", your teacher" : ""}, {c.at}
        {c.waiting ? " · waits to be shown" : ""}
        {c.mine ? (
          <button
            type="button"
            disabled={busy}
            className="ml-3 min-h-6 text-dusk hover:underline"
            onClick={() => run(() => removeCommentAction(c.id))}
          >
            Remove
          </button>
        ) : null}
      </p>
      <p className="whitespace-pre-line [overflow-wrap:anywhere]">{c.body}</p>
    </div>
  )
}

function Write({
  slug,
  lesson,
  answers,
  moderated,
  onDone,
}: {
  slug: string
  lesson: number
  answers: number | null
  moderated: boolean
  onDone?: () => void
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [once, renew] = useOnce()
  const [body, setBody] = useState("")
  const [said, setSaid] = useState("")
  return (
    <form
      className="mt-4 space-y-2"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const done = await addCommentAction({ slug, lesson, answers }, body, once)
          setSaid(done.refused ?? (moderated ? "Thank you. It is shown once it has been looked at." : ""))
          if (done.refused) return
          setBody("")
          renew()
          router.refresh()
          onDone?.()
        })
      }}
    >
      <textarea
        aria-label={answers === null ? "Your comment" : "Your answer"}
        rows={3}
        maxLength={4000}
        required
        placeholder={answers === null ? "Ask, or say how it went" : ""}
        value={body}
        onChange={(e) => setBody(e.target.value)}
        className="w-full rounded-md border border-line bg-card px-3 py-2"
      />
      <p role="status" className="text-body text-soft empty:hidden">
        {said}
      </p>
      <Button type="submit" disabled={busy || !body.trim()} className="min-h-11">
        {answers === null ? "Write it" : "Answer"}
      </Button>
    </form>
  )
}
