"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { FoundPerson } from "@/server/person/unite"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { findOtherAction, partAction, uniteAction } from "../actions"

/** Joins this person with another who is the same, and takes it back within a week. */
export function Unite({
  person,
  name,
  lately,
}: {
  person: number
  name: string
  lately: readonly { id: number; email: string; day: string }[]
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [email, setEmail] = useState("")
  const [found, setFound] = useState<FoundPerson | null>(null)
  const [refused, setRefused] = useState("")
  const act = (work: () => Promise<{ refused?: string }>) =>
    start(async () => {
      const done = await work()
      setRefused(done.refused ?? "")
      if (!done.refused) {
        setFound(null)
        setEmail("")
        router.refresh()
      }
    })
  return (
    <section aria-label="The same person">
      {lately.map((u) => (
        <p key={u.id} className="mb-2 flex items-baseline justify-between gap-3 text-body">
          <span className="min-w-0 [overflow-wrap:anywhere]">
            Joined with {u.email} on {u.day}
          </span>
          <Button disabled={busy} className="min-h-8" onClick={() => act(() => partAction(u.id))}>
            Take it back
          </Button>
        </p>
      ))}
      <details>
        <summary className="text-slate">The same person with another address?</summary>
        <div className="mt-2 space-y-2">
          <TextField
            label="The other address"
            type="email"
            value={email}
            error={refused || undefined}
            onChange={(e) => {
              setEmail(e.target.value)
              setFound(null)
            }}
          />
          {found ? (
            <>
              <p className="text-body">
                All that is <bdi>{found.name || found.email}</bdi>’s, with{" "}
                {found.orders === 1 ? "one order" : `${found.orders} orders`}, becomes <bdi>{name}</bdi>’s: what they
                may open, what they have done, both stories. It can be taken back within a week.
              </p>
              <Button look="danger" disabled={busy} onClick={() => act(() => uniteAction(person, found.id))}>
                Join the two
              </Button>
            </>
          ) : (
            <Button
              disabled={busy || !email.trim()}
              onClick={() =>
                start(async () => {
                  const done = await findOtherAction(person, email)
                  if ("refused" in done) setRefused(done.refused)
                  else {
                    setRefused("")
                    setFound(done)
                  }
                })
              }
            >
              Find them
            </Button>
          )}
        </div>
      </details>
    </section>
  )
}
