"use client"

import type { Funnel, Sequence } from "@/core/funnel/draft"
import type { River as RiverNumbers } from "@/core/funnel/river"
import { outcomes } from "@/core/funnel/step/list"
import { locale } from "@/core/words/locale"
import type { MailNumbers } from "@/server/sequence/sequence-view"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"

/** A sequence on the bench: its mails in order, who begins it, who came back by it. */
export function PoolBench({
  funnel,
  river,
  sequence,
  numbers,
}: {
  funnel: Funnel
  river: RiverNumbers
  sequence: Sequence
  /** What came of each e-mail so far, by its number. */
  numbers: Readonly<Record<number, MailNumbers>>
}) {
  const pool = river.pools.find((p) => p.sequence === sequence.id)
  const back = river.streams.filter((s) => s.via === "mail").reduce((t, s) => t + s.n, 0)
  const begun = funnel.steps.find((s) => s.id === pool?.step)
  return (
    <section aria-label="The sequence" className="rounded-lg border border-line bg-card p-4">
      <div className="flex items-start justify-between gap-3">
        <h2>
          {sequence.name}{" "}
          <span className="font-sans font-normal text-soft">
            · sequence{sequence.state === "live" ? "" : sequence.state === "draft" ? ", a draft" : ", paused"}
          </span>
        </h2>
        <Button asChild>
          <Link href={`/studio/mail/sequences/${sequence.id}`}>Open the sequence</Link>
        </Button>
      </div>
      <p className="mt-1 text-body">
        {begun && pool
          ? `Begins when someone ${outcomes[pool.outcome].verb} on “${begun.name}”. `
          : "Nothing begins it. "}
        Of those who first came in these days {(pool?.n ?? 0).toLocaleString(locale)} met it;{" "}
        {back.toLocaleString(locale)} came back by a link in it before they went on by themselves.
      </p>
      <ol className="mt-3 text-body">
        {sequence.mails.map((m, i) => (
          <li key={m.id} className="flex gap-4 border-t border-line py-1.5">
            <span className="w-8 text-soft">{i + 1}</span>
            <span className="min-w-0 flex-1 truncate font-semibold">{m.subject || "no subject yet"}</span>
            {numbers[m.id] ? (
              <span className="whitespace-nowrap text-soft tabular-nums">
                {numbers[m.id]!.sent.toLocaleString(locale)} sent, {numbers[m.id]!.clicked.toLocaleString(locale)}{" "}
                clicked
              </span>
            ) : null}
            <span className="text-soft">{whenWords(m.afterDays, m.atMinute)}</span>
          </li>
        ))}
        {sequence.mails.length === 0 ? <li>There is no e-mail in it yet.</li> : null}
      </ol>
    </section>
  )
}

export function whenWords(afterDays: number, atMinute: number | null): string {
  const time =
    atMinute === null
      ? ""
      : ` at ${String(Math.floor(atMinute / 60)).padStart(2, "0")}:${String(atMinute % 60).padStart(2, "0")} where the reader is`
  if (afterDays === 0) return atMinute === null ? "at once" : `the next time it is${time.slice(3)}`
  return `${afterDays === 1 ? "a day" : `${afterDays} days`} later${time}`
}
