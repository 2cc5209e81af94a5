"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { HandIn } from "@/server/course/hand-in"
import { Button } from "@/ui/button"
import { handInAction } from "../../actions"

/** Something to be done and handed in, with what the teacher said to it. */
export function AssignmentForm({
  slug,
  lesson,
  block,
  asks,
  known,
  mine,
}: {
  slug: string
  lesson: number
  block: string
  asks: string
  /** What was handed in before. */
  known: HandIn | undefined
  /** Whether they are signed in with all they have. */
  mine: boolean
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [body, setBody] = useState(known?.body ?? "")
  const [refused, setRefused] = useState("")
  const accepted = known?.state === "accepted"
  return (
    <form
      aria-label="Assignment"
      className="rounded-lg border border-line bg-card p-4 sm:p-5"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const done = await handInAction({ slug, lesson, block }, body)
          setRefused(done.refused ?? "")
          router.refresh()
        })
      }}
    >
      <p className="font-semibold whitespace-pre-line">{asks}</p>
      {known ? (
        <p role="status" className={`mt-2 font-semibold ${accepted ? "text-reed" : "text-soft"}`}>
          {accepted
            ? "Accepted."
            : known.state === "again"
              ? "Once more, please."
              : "Handed in. Your teacher answers by mail."}
        </p>
      ) : null}
      {known?.answer ? <p className="mt-1 border-l-2 border-line pl-3 whitespace-pre-line">{known.answer}</p> : null}
      {accepted ? (
        <p className="mt-3 whitespace-pre-line text-soft">{known.body}</p>
      ) : mine ? (
        <>
          <textarea
            aria-label="What you hand in"
            rows={6}
            maxLength={20_000}
            required
            value={body}
            onChange={(e) => setBody(e.target.value)}
            className="mt-3 w-full rounded-md border border-line bg-paper px-3 py-2"
          />
          {refused ? (
            <p role="alert" className="mt-1 font-semibold text-dusk">
              {refused}
            </p>
          ) : null}
          <Button type="submit" look="primary" disabled={busy || !body.trim()} className="mt-2 min-h-11 w-full">
            {known ? "Hand it in anew" : "Hand it in"}
          </Button>
        </>
      ) : (
        <p className="mt-2 text-soft">Sign in to hand something in.</p>
      )}
    </form>
  )
}
