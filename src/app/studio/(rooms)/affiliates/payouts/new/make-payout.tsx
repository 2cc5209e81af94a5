"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { makePayoutAction } from "../../actions"

/** What the payout comes to, and the press that makes it. */
export function MakePayout({
  once,
  until,
  seen,
  day: first,
  today,
  ready,
  totals,
}: {
  once: string
  until: number
  seen: string
  day: string
  today: string
  ready: boolean
  totals: readonly { says: string; people: number; lines: number; currency: string }[]
}) {
  const [day, setDay] = useState(first)
  const [refused, setRefused] = useState("")
  const [busy, start] = useTransition()
  const router = useRouter()
  return (
    <aside aria-label="The payout" className="h-fit rounded-lg border border-line bg-card p-4 lg:sticky lg:top-16">
      {totals.map((t) => (
        <p key={t.currency} className="mb-2">
          <strong className="block text-xl tabular-nums">{t.says}</strong>
          <span className="text-soft">
            {t.people === 1 ? "1 affiliate" : `${t.people.toLocaleString(locale)} affiliates`},{" "}
            {t.lines === 1 ? "1 line" : `${t.lines.toLocaleString(locale)} lines`}
          </span>
        </p>
      ))}
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault()
          start(async () => {
            const done = await makePayoutAction({ once, until, seen, day })
            setRefused(done.refused ?? "")
            if (done.refused) router.refresh()
          })
        }}
      >
        <TextField
          label="The bank pays on"
          type="date"
          value={day}
          min={today}
          onChange={(e) => setDay(e.target.value)}
        />
        <Button type="submit" look="primary" disabled={busy || !ready || !day}>
          Make the payout
        </Button>
        <p className="text-label text-soft">
          It makes the file for your bank. Nothing is paid or booked by it, and it can be undone until you mark it as
          paid.
        </p>
        <Refusal>{refused}</Refusal>
      </form>
    </aside>
  )
}
