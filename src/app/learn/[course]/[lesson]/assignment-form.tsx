"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { HandIn } from "@/server/course/hand-in"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { handInAction } from "../../actions"

/** Something to be done and handed in, with what the teacher said to it. */
export function AssignmentForm({
  slug,
  lesson,
  block,
  asks,
  takesFile,
  known,
  mine,
}: {
  slug: string
  lesson: number
  block: string
  asks: string
  takesFile: boolean
  /** What was handed in before; `link`: where its file can be had. */
  known: (HandIn & { readonly link: string | null }) | undefined
  /** Whether they are signed in with all they have. */
  mine: boolean
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [body, setBody] = useState(known?.body ?? "")
  const [file, setFile] = useState<File | null>(null)
  const [refused, setRefused] = useState("")
  const accepted = known?.state === "accepted"
  return (
    <form
      aria-label="Assignment"
      className="rounded-lg border border-line bg-card p-4 sm:p-5"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const sent = file ? await sendUp({ slug, lesson, block }, file) : { id: null }
          const done = "refused" in sent ? sent : await handInAction({ slug, lesson, block }, { body, file: sent.id })
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
      {known?.file && known.link ? (
        <p className="mt-2">
          You handed in{" "}
          <a href={known.link} download className="text-slate underline [overflow-wrap:anywhere]">
            {known.file.name}
          </a>
        </p>
      ) : null}
      {accepted ? (
        <p className="mt-3 whitespace-pre-line text-soft">{known.body}</p>
      ) : mine ? (
        <>
          <textarea
            aria-label="What you hand in"
            rows={6}
            maxLength={20_000}
            required={!takesFile}
            value={body}
            onChange={(e) => setBody(e.target.value)}
            className="mt-3 w-full rounded-md border border-line bg-paper px-3 py-2"
          />
          {takesFile ? (
            <label className="mt-2 block">
              <span className="text-body font-semibold">A file, if you like</span>
              <input
                type="file"
                className="mt-1 block w-full text-body file:mr-2 file:min-h-10 file:rounded-md file:border file:border-line file:bg-paper file:px-3 file:font-semibold"
                onChange={(e) => setFile(e.target.files?.[0] ?? null)}
              />
            </label>
          ) : null}
          <Refusal className="mt-1">{refused}</Refusal>
          <Button
            type="submit"
            look="primary"
            disabled={busy || (!body.trim() && !file)}
            className="mt-2 min-h-11 w-full"
          >
            {known ? "Hand it in anew" : "Hand it in"}
          </Button>
        </>
      ) : (
        <p className="mt-2 text-soft">Sign in to hand something in.</p>
      )}
    </form>
  )
}

/** Sends a file up before it is handed in. */
async function sendUp(
  at: { slug: string; lesson: number; block: string },
  file: File,
): Promise<{ id: number } | { refused: string }> {
  const query = new URLSearchParams({ course: at.slug, lesson: String(at.lesson), block: at.block, name: file.name })
  const answer = await fetch(`/learn/hand-in?${query}`, { method: "POST", body: file }).catch(() => null)
  const said = (await answer?.json().catch(() => null)) as { id: number } | { refused: string } | null | undefined
  return said ?? { refused: "It didn’t arrive. Please try again." }
}
