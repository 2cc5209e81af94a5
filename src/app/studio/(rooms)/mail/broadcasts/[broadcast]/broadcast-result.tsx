"use client"

import { useRouter } from "next/navigation"
import { useEffect } from "react"
import type { Currency } from "@/core/offer/money"
import { moneyText } from "@/core/offer/money"
import type { Proportion } from "@/core/proportion"
import { locale } from "@/core/words/locale"
import type { Result } from "@/server/broadcast/result"
import type { BroadcastKept } from "@/server/broadcast/store"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { Table } from "@/ui/table"
import { useAction } from "@/ui/use-action"
import { people, studioMoment } from "../../../words"
import { ReachedForm } from "../../reached-form"
import { reachedAction, turnBroadcastAction } from "../actions"

const percent = (n: number) => `${(100 * n).toFixed(1)} %`
const points = (n: number) => (100 * n).toFixed(1).replace("-", "−")

/** A broadcast that is planned, going or gone: how far it is, and what came of it. */
export function BroadcastResult({
  broadcast: b,
  result: r,
  zone,
}: {
  broadcast: BroadcastKept
  result: Result
  zone: string
}) {
  const router = useRouter()
  const { busy, refused: trouble, run } = useAction()
  const all = Object.values(r.states).reduce((sum: number, n) => sum + (n ?? 0), 0)
  const toGo = (r.states.due ?? 0) + (r.states.held ?? 0) + (r.states.sending ?? 0)
  const running = b.state === "planned" && toGo > 0
  // While it goes, the page keeps up with it.
  useEffect(() => {
    if (!running) return
    const timer = setInterval(() => router.refresh(), 5_000)
    return () => clearInterval(timer)
  }, [running, router])
  const act = (to: "pause" | "go-on" | "stop") => run(() => turnBroadcastAction(b.id, to))
  const says = {
    draft: "Being written.",
    planned: r.sent ? "On its way." : `Planned: it begins ${b.begins ? studioMoment(b.begins, zone) : "soon"}.`,
    paused: "Paused: what was still to go is held.",
    stopped: "Stopped: what was still to go never goes.",
    sent: `Sent. It began on ${b.begins ? studioMoment(b.begins, zone) : ""}.`,
  }[b.state]
  return (
    <>
      <h1 className="mt-1 truncate">{b.name}</h1>
      <p className="text-soft [overflow-wrap:anywhere]">
        {r.trial && b.winner !== null ? b.document.subjects[b.winner] : b.document.subjects.join(" / ")}
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-md border border-line bg-card px-3 py-2">
        <p className="min-w-0 flex-1">
          {says} {r.sent.toLocaleString(locale)} of {people(all - r.again)} have it
          {toGo ? `, ${toGo.toLocaleString(locale)} to go` : ""}
          {r.again ? `; ${r.again.toLocaleString(locale)} got it once more` : ""}.
        </p>
        <Refusal>{trouble}</Refusal>
        {b.state === "planned" && toGo ? (
          <Button disabled={busy} onClick={() => act("pause")}>
            Pause
          </Button>
        ) : null}
        {b.state === "paused" ? (
          <Button look="primary" disabled={busy} onClick={() => act("go-on")}>
            Go on
          </Button>
        ) : null}
        {b.state === "paused" || (b.state === "planned" && toGo) ? (
          <Button look="danger" disabled={busy} onClick={() => act("stop")}>
            Stop for good
          </Button>
        ) : null}
      </div>
      {toGo > 0 ? (
        <progress
          aria-label="Sent"
          className="mt-2 h-2 w-full appearance-none overflow-hidden rounded border border-line bg-card [&::-webkit-progress-bar]:bg-card [&::-webkit-progress-value]:bg-slate"
          value={all - toGo}
          max={all}
        />
      ) : null}
      {r.sent ? (
        <>
          <section aria-label="What came of it" className="mt-5">
            <Table
              className="min-w-[34rem] max-w-3xl"
              columns={[
                { says: "Of those who have it", wide: "w-72" },
                { says: "People", wide: "w-24", right: true },
                { says: "Share", wide: "w-24", right: true },
                { says: "95 % sure: between", right: true },
              ]}
            >
              <Row says="followed a link" share={r.clicked} strong />
              <Row says="opened it, as far as can be told" share={r.opened} />
              <Row
                says={`bought within ${b.document.boughtWithin === 1 ? "a day" : `${b.document.boughtWithin} days`}`}
                share={r.bought}
                note={r.money.map((m) => moneyText(m.amount, m.currency as Currency)).join(", ")}
              />
              <Row says="unsubscribed by it" share={r.left} />
              <Row says="bounced" share={r.bounced} />
            </Table>
            <p className="mt-2 text-note text-soft">
              Opens are counted by a small picture. Machines ask for it, too, and some readers never do: clicks are what
              counts. Whoever bought after getting it need not have bought because of it.
            </p>
          </section>
          {r.links.length ? (
            <section aria-label="Links" className="mt-5">
              <h2>By link</h2>
              <ul>
                {r.links.map((l, i) => (
                  <li key={i} className="flex items-baseline gap-4 border-t border-line py-1.5">
                    <span className="min-w-0 flex-1 truncate">{l.says}</span>
                    <span className="tabular-nums">{l.clicked.hits.toLocaleString(locale)}</span>
                    <span className="w-40 text-right text-note text-soft tabular-nums">
                      {percent(l.clicked.low)} to {percent(l.clicked.high)}
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          ) : null}
          {r.trial ? <Trial b={b} r={r} trial={r.trial} /> : null}
        </>
      ) : null}
      <ReachedForm look={(email) => reachedAction(b.id, email)} />
    </>
  )
}

function Row({
  says,
  share,
  note = "",
  strong = false,
}: {
  says: string
  share: Proportion
  note?: string
  strong?: boolean
}) {
  return (
    <tr className={`border-b border-line ${strong ? "font-semibold" : ""}`}>
      <td className="py-1.5">
        {says}
        {note ? <span className="ml-2 font-normal text-soft">{note}</span> : null}
      </td>
      <td className="text-right tabular-nums">{share.hits.toLocaleString(locale)}</td>
      <td className="text-right tabular-nums">{percent(share.of ? share.hits / share.of : 0)}</td>
      <td className="pl-6 text-right tabular-nums text-soft">
        {percent(share.low)} and {percent(share.high)}
      </td>
    </tr>
  )
}

function Trial({ b, r, trial }: { b: BroadcastKept; r: Result; trial: NonNullable<Result["trial"]> }) {
  const by = trial.by === "clicked" ? "followed a link" : "opened it"
  return (
    <section aria-label="The subjects" className="mt-5">
      <h2>The subjects that were tried</h2>
      <ul>
        {b.document.subjects.map((subject, i) => {
          const t = r.tried[i]!
          return (
            <li key={i} className="flex flex-wrap items-baseline gap-x-4 border-t border-line py-1.5">
              <span className={`min-w-0 flex-1 [overflow-wrap:anywhere] ${b.winner === i ? "font-semibold" : ""}`}>
                {subject}
                {b.winner === i ? <span className="ml-2 text-reed">went to the rest</span> : null}
              </span>
              <span className="text-note text-soft tabular-nums">
                {people(t[trial.by])} of {t.sent.toLocaleString(locale)} {by}
              </span>
            </li>
          )
        })}
      </ul>
      <p className="mt-2">
        {trial.sure
          ? `“${b.document.subjects[trial.best]}” is better, and that is no accident: `
          : "It can’t be told yet which is better: "}
        {trial.ahead
          ? `the best is ahead by ${points(trial.ahead.by)} percentage points, with 95 % certainty by ${points(trial.ahead.low)} to ${points(trial.ahead.high)}.`
          : ""}
      </p>
    </section>
  )
}
