"use client"

import { useState } from "react"
import type { FoundPerson } from "@/server/person/unite"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
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
  const { busy, refused, run } = useAction()
  const [email, setEmail] = useState("")
  const [found, setFound] = useState<FoundPerson | null>(null)
  const act = (work: () => Promise<{ refused?: string }>) =>
    run(work, () => {
      setFound(null)
      setEmail("")
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
                run(
                  () => findOtherAction(person, email),
                  (done) => setFound(done as FoundPerson),
                )
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
