"use client"

import { useState, useTransition } from "react"
import type { Reached } from "@/server/mail/reached"
import type { Refused } from "@/server/saved"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { NameLink } from "@/ui/link"

/** Looks up one person: whether they have it, and why not. */
export function ReachedForm({ look }: { look: (email: string) => Promise<Reached | Refused> }) {
  const [email, setEmail] = useState("")
  const [found, setFound] = useState<Reached | Refused | null>(null)
  const [busy, start] = useTransition()
  return (
    <section aria-label="One person" className="mt-5 border-t border-line pt-4">
      <h2>Did it reach somebody?</h2>
      <form
        className="mt-2 flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          start(async () => setFound(await look(email)))
        }}
      >
        <div className="w-80 max-w-full">
          <TextField
            label="Their e-mail address"
            type="email"
            value={email}
            onChange={(e) => setEmail(e.target.value)}
          />
        </div>
        <Button type="submit" disabled={busy || !email.trim()}>
          Look
        </Button>
      </form>
      <div role="status" className="mt-2 space-y-1">
        {found && "refused" in found ? <p className="font-semibold text-dusk">{found.refused}</p> : null}
        {found && !("refused" in found) ? (
          <>
            {found.says.map((line) => (
              <p key={line}>{line}</p>
            ))}
            {found.mail === null ? (
              <NameLink href={`/studio/people/${found.person}`}>Who they are</NameLink>
            ) : (
              <p>
                It was written to them. <NameLink href={`/studio/mail/${found.mail}`}>See what became of it</NameLink>
              </p>
            )}
          </>
        ) : null}
      </div>
    </section>
  )
}
