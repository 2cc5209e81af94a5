"use client"

import { useRouter } from "next/navigation"
import { useEffect, useState, useTransition } from "react"
import type { Said } from "@/server/webinar/talk"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { sayAsHostAction, settleSaidAction } from "../../../actions"

/** How often the host's view is looked at anew, ms. */
const lookEvery = 2_000

/** What is said in a room, from the host's chair. */
export function HostRoom({ date, host, said }: { date: number; host: string; said: readonly Said[] }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [words, setWords] = useState("")
  const [refused, setRefused] = useState("")
  useEffect(() => {
    const timer = setInterval(() => document.hidden || router.refresh(), lookEvery)
    return () => clearInterval(timer)
  }, [router])
  const settle = (id: number, how: "answered" | "hidden") =>
    start(async () => {
      await settleSaidAction(id, how)
      router.refresh()
    })
  return (
    <section aria-label="What is said" className="mt-4 border-t border-line pt-3">
      <form
        className="flex items-start gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          start(async () => {
            const done = await sayAsHostAction(date, words)
            setRefused(done.refused ?? "")
            if (!done.refused) setWords("")
            router.refresh()
          })
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
      {said.length === 0 ? (
        <p className="mt-4 text-soft">Nothing has been said yet.</p>
      ) : (
        <ul className="mt-3">
          {[...said].reverse().map((m) => (
            <li key={m.id} className="flex flex-wrap items-baseline gap-x-3 border-t border-line py-1.5">
              <span className="min-w-0 flex-1 [overflow-wrap:anywhere]" dir="auto">
                <strong>{m.registration === null ? host || "You" : m.name || "Somebody"}</strong>
                {m.kind === "question" ? <span className="text-amber-text"> asks</span> : null}: {m.words}
              </span>
              {m.kind === "question" ? (
                m.answered ? (
                  <span className="text-[0.9rem] text-reed">answered</span>
                ) : (
                  <Button look="quiet" disabled={busy} onClick={() => settle(m.id, "answered")}>
                    Mark answered
                  </Button>
                )
              ) : null}
              <Button look="quiet" disabled={busy} onClick={() => settle(m.id, "hidden")}>
                Take it out
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
