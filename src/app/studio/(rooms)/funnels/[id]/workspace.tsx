"use client"

import { useRouter } from "next/navigation"
import { useEffect, useRef, useState, useTransition } from "react"
import type { SaidFinding } from "@/core/finding"
import type { Funnel } from "@/core/funnel/draft"
import { type Drawing, poolNode, stepNode } from "@/core/funnel/layout"
import { count, type outlineOf, type River as RiverNumbers, type Way } from "@/core/funnel/river"
import { outcomes, waysOf } from "@/core/funnel/step/list"
import { moneyRound, moneyText } from "@/core/offer/money"
import type { OfferCard } from "@/core/page/selling"
import type { MailNumbers } from "@/server/sequence/sequence-view"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { option } from "@/ui/field"
import { KeysDialog } from "@/ui/keys-dialog"
import { Link } from "@/ui/link"
import { people } from "../../words"
import { publishAction, takeBackAction } from "../actions"
import { FunnelFoot } from "./funnel-foot"
import { History } from "./history"
import { Inspector } from "./inspector"
import { InsertStep, MoveStep, type Placing } from "./place-step"
import { PoolBench } from "./pool-bench"
import { PreflightList } from "./preflight-list"
import { type Looked, lookedText } from "./range"
import { RangePicker, type ShownRange } from "./range-picker"
import { neighbour, River } from "./river"
import { RiverWords } from "./river-words"
import { TakeOff } from "./take-off"

/** The draft, and what there is to say of it. */
export type Draft = {
  readonly funnel: Funnel
  readonly findings: readonly SaidFinding[]
  readonly previews: Readonly<Record<number, string>>
  /** Changes to its structure, the latest first, in words; the first can be undone. */
  readonly changes: readonly { id: number; at: string; what: string; who: string | null }[]
}

/** What was counted in these days, of those that are looked at. */
export type CountedRiver = {
  readonly range: ShownRange
  readonly looked: Looked
  /** Dates of the webinar that it fills. */
  readonly dates: readonly { readonly id: number; readonly says: string }[]
  readonly river: RiverNumbers
  /** The same river in money, where the funnel sells. */
  readonly money: { readonly river: RiverNumbers; readonly currency: string } | null
  /** Of how many of the days there was a forecast; null: it isn't looked at. */
  readonly forecast: { readonly days: number; readonly of: number } | null
  readonly drawing: Drawing
  readonly outline: ReturnType<typeof outlineOf>
  /** How many began to pay and stopped, by checkout. */
  readonly stopped: Readonly<Record<number, number>>
  /** What came of each e-mail of its sequences so far, by its number. */
  readonly mails: Readonly<Record<number, MailNumbers>>
}

/** What visitors get. */
export type Published = {
  readonly live: { readonly since: string; readonly number: number; readonly changed: boolean } | null
  /** The releases, the newest first. */
  readonly releases: readonly { id: number; number: number; at: string; live: boolean; who: string | null }[]
  /** Who is on their way: journeys that moved within seven days, and people who get its e-mails. */
  readonly underWay: { readonly here: number; readonly mails: number }
}

/** What a step can be set to. */
export type Choices = {
  readonly tags: readonly string[]
  readonly courses: readonly { id: number; title: string }[]
  readonly offers: readonly OfferCard[]
  /** Offers that have a programme for affiliates. */
  readonly programmes: readonly { id: number; name: string }[]
}

const keys = [
  ["← → ↑ ↓", "walk the river"],
  ["Enter", "go to the bench of what is selected"],
  ["E", "edit its page or its e-mails"],
  ["N", "insert a step after it"],
  ["M", "move, copy or remove it"],
  ["Ctrl Z", "undo the last change to the wiring"],
  ["$", "in people, in money"],
  ["P", "preflight"],
  ["O", "the river in words"],
  ["Ctrl K", "find or do"],
  ["?", "these keys"],
] as const

export function Workspace({
  draft,
  counted,
  published,
  choices,
  selected,
  openPreflight,
}: {
  draft: Draft
  counted: CountedRiver
  published: Published
  choices: Choices
  /** The card that is selected to begin with. */
  selected: string | null
  openPreflight: boolean
}) {
  const { funnel, findings } = draft
  const { drawing } = counted
  const { live } = published
  const [node, setNode] = useState(
    drawing.cards.some((c) => c.node === selected) ? selected! : stepNode(funnel.steps[0]!.id),
  )
  const lastChange = draft.changes[0]
  const [open, setOpen] = useState<"preflight" | "keys" | "publish" | "history" | "take-off" | null>(
    openPreflight ? "preflight" : null,
  )
  const [words, setWords] = useState(false)
  const [placing, setPlacing] = useState<Placing | null>(null)
  const [moving, setMoving] = useState(false)
  const [said, setSaid] = useState("")
  const [busy, start] = useTransition()
  const bench = useRef<HTMLDivElement>(null)
  const river = useRef<HTMLDivElement>(null)
  const router = useRouter()
  const step = funnel.steps.find((s) => stepNode(s.id) === node)
  const pool = funnel.sequences.find((q) => poolNode(q.id) === node)
  const stops = findings.filter((f) => f.weight === "stop")
  const nobody = counted.river.steps.every((s) => s.in === 0)
  const inMoney = counted.looked.measure === "money" && counted.money !== null
  const says = inMoney ? (n: number) => moneyRound(n, counted.money!.currency) : count

  const address = (looked: Looked) =>
    `/studio/funnels/${funnel.id}?${[`from=${counted.range.from}&to=${counted.range.to}`, lookedText(looked), `step=${node}`].filter(Boolean).join("&")}`
  const turn = () => counted.money && router.push(address({ ...counted.looked, measure: inMoney ? "people" : "money" }))
  const onlyWay = (way: Way) => {
    const has = counted.looked.ways.some((w) => w.step === way.step && w.outcome === way.outcome)
    // One answer to a step at a time: another takes its place.
    const rest = counted.looked.ways.filter((w) => w.step !== way.step)
    router.push(address({ ...counted.looked, ways: has ? rest : [...rest, way] }))
  }
  const takeBack = () =>
    start(async () => {
      if (!lastChange) return
      const done = await takeBackAction(funnel.id, lastChange.id)
      setSaid(done.refused ?? `Undone: ${lastChange.what}.`)
      router.refresh()
    })
  const firstWay = step && waysOf(step.kind)[0]
  /** The card that is to have the focus as soon as it is there: what was just put in comes with the next drawing. */
  const wanted = useRef<string | null>(null)
  const focusCard = (next: string) => {
    setNode(next)
    wanted.current = next
  }
  useEffect(() => {
    const card = wanted.current && river.current?.querySelector<HTMLElement>(`[data-node="${wanted.current}"]`)
    if (!card) return
    wanted.current = null
    // After a dialog that closes has given the focus back.
    const timer = setTimeout(() => card.focus({ preventScroll: true }), 50)
    return () => clearTimeout(timer)
  })
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement
      const typing = target.closest("input, select, textarea, [contenteditable], [role=dialog], [role=menu]")
      if ((e.ctrlKey || e.metaKey) && e.key === "z" && !typing && lastChange && !busy) {
        e.preventDefault()
        return takeBack()
      }
      if (e.ctrlKey || e.metaKey || e.altKey || open || placing || moving || typing) return
      const way = { ArrowLeft: "left", ArrowRight: "right", ArrowUp: "up", ArrowDown: "down" }[e.key] as
        | "left"
        | undefined
      const onRiver = target === document.body || river.current?.contains(target)
      if (way && onRiver) {
        e.preventDefault()
        focusCard(neighbour(drawing, node, way))
      } else if (e.key === "Enter" && river.current?.contains(target)) {
        e.preventDefault()
        bench.current?.focus()
      } else if (e.key === "e" && step?.path) router.push(`/studio/funnels/${funnel.id}/steps/${step.id}`)
      else if (e.key === "e" && pool) router.push(`/studio/mail/sequences/${pool.id}`)
      else if (e.key === "n" && step && firstWay) setPlacing({ after: step.id, outcome: firstWay })
      else if (e.key === "m" && step?.path) setMoving(true)
      else if (e.key === "$") turn()
      else if (e.key === "p") setOpen("preflight")
      else if (e.key === "o") setWords((w) => !w)
      else if (e.key === "?") setOpen("keys")
    }
    window.addEventListener("keydown", key)
    return () => window.removeEventListener("keydown", key)
  })

  const publish = (anyway: boolean) =>
    start(async () => {
      const done = await publishAction(funnel.id, anyway)
      if (done.refused) setSaid(done.refused)
      else {
        setOpen(null)
        setSaid(`Published as release ${done.number}. Visitors see it now.`)
      }
      router.refresh()
    })

  const publishWord = !live ? "Publish" : live.changed ? "Publish changes" : "All published"
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="max-w-[34rem] truncate" title={funnel.name}>
          {funnel.name}
        </h1>
        {live ? (
          <span className="rounded-full bg-reed-wash px-2.5 py-0.5 text-label whitespace-nowrap text-reed">
            Live since {live.since}
          </span>
        ) : (
          <span className="rounded-full border border-line px-2.5 py-0.5 text-label text-soft">
            Draft, nobody sees it yet
          </span>
        )}
        {counted.looked.date === null ? (
          <RangePicker range={counted.range} funnel={funnel.id} kept={lookedText(counted.looked)} />
        ) : null}
        {counted.dates.length ? (
          <select
            aria-label="Date of the webinar"
            className={`min-h-8 rounded-md border border-line bg-card px-1 text-note ${counted.looked.date === null ? "w-24" : ""}`}
            value={counted.looked.date ?? ""}
            onChange={(e) => router.push(address({ ...counted.looked, date: Number(e.target.value) || null }))}
          >
            <option value="">all dates</option>
            {counted.dates.map((d) => option(d.id, d.says))}
          </select>
        ) : null}
        {counted.money ? (
          <span className="flex overflow-hidden rounded-md border border-line text-note">
            {(["people", "money"] as const).map((m) => (
              <Link
                key={m}
                href={address({ ...counted.looked, measure: m })}
                aria-current={(m === "money") === inMoney ? "true" : undefined}
                className={`px-2 py-0.5 ${(m === "money") === inMoney ? "bg-card font-semibold" : "text-soft hover:text-ink"}`}
              >
                in {m}
              </Link>
            ))}
          </span>
        ) : (
          <span className="text-body text-soft">in people</span>
        )}
        <div className="ml-auto flex flex-wrap items-center justify-end gap-2.5">
          <Button look={stops.length ? "warn" : "plain"} onClick={() => setOpen("preflight")}>
            {stops.length ? `Preflight: ${stops.length} to fix` : "Preflight: clear"}
          </Button>
          {live && funnel.steps[0] ? (
            <Button asChild>
              <a href={`/${funnel.steps[0].path}`} target="_blank" rel="noreferrer">
                See as visitor
              </a>
            </Button>
          ) : null}
          <Button
            look="primary"
            disabled={busy || (live !== null && !live.changed)}
            onClick={() => (stops.length ? setOpen("publish") : publish(false))}
          >
            {busy ? "Publishing…" : publishWord}
          </Button>
        </div>
      </div>
      <p role="status" className={said ? "mb-2 text-body font-semibold text-slate" : "sr-only"}>
        {said}
      </p>

      {counted.looked.ways.length ? (
        <p className="mb-2 flex flex-wrap items-center gap-1.5 text-body">
          Only those who{" "}
          {counted.looked.ways.map((w) => (
            <button
              key={`${w.step}.${w.outcome}`}
              type="button"
              onClick={() => onlyWay(w)}
              className="rounded border border-slate/40 bg-card px-1.5 hover:border-dusk"
              title="Show the others again, too"
            >
              {outcomes[w.outcome].done} “{funnel.steps.find((x) => x.id === w.step)?.name ?? "a step that is gone"}” ×
            </button>
          ))}
          <span className="text-soft">
            : {people(counted.river.steps.reduce((sum, x) => sum + x.sources.reduce((a, b) => a + b.n, 0), 0))}
            {counted.money
              ? `, ${moneyText(
                  counted.money.river.steps.reduce((sum, x) => sum + x.here + x.left, 0),
                  counted.money.currency,
                )}`
              : ""}
          </span>
        </p>
      ) : null}
      {counted.looked.forecast && !inMoney ? (
        <p className="mb-2 text-body text-soft">
          {counted.forecast === null || counted.forecast.days === 0
            ? "Nothing was forecast of these days. That is done each Monday, and whenever a forecast is kept."
            : counted.forecast.days < counted.forecast.of
              ? `Outlined: how many were forecast to come on ${counted.forecast.days} of these ${counted.forecast.of} days; the others weren’t forecast.`
              : "Outlined: how many were forecast to come on these days. Filled: how many came so far."}
        </p>
      ) : null}
      <section aria-label="The river" ref={river}>
        <River
          drawing={drawing}
          selected={node}
          onSelect={setNode}
          says={says}
          troubled={new Set(stops.flatMap((f) => (f.step === null ? [] : [stepNode(f.step)])))}
        />
      </section>
      {nobody ? (
        <p className="mt-2 text-lead">
          No visitors yet in these days.{" "}
          {!live ? (
            "Look the pages over, then publish, and pass the address on."
          ) : (
            <>
              Pass the address on:{" "}
              <a className="text-slate underline" href={`/${funnel.steps[0]!.path}`}>
                /{funnel.steps[0]!.path}
              </a>
              . Put <code>?utm_source=</code> and a name behind it, and the river tells you who came from where.
            </>
          )}
        </p>
      ) : null}
      <div className="mt-1 flex flex-wrap justify-between gap-x-4">
        {lastChange ? (
          <button
            type="button"
            disabled={busy}
            className="truncate text-label text-slate hover:underline"
            onClick={takeBack}
          >
            Undo: {lastChange.what} <kbd className="font-sans text-soft">Ctrl Z</kbd>
          </button>
        ) : (
          <span />
        )}
        {inMoney ? <span className="ml-auto text-label whitespace-nowrap text-soft">Before refunds.</span> : null}
        {counted.river.steps.some((x) => x.sources.some((v) => v.affiliate)) ? (
          <Link
            href={address({ ...counted.looked, each: !counted.looked.each })}
            className="mr-4 text-label whitespace-nowrap text-slate hover:underline"
          >
            {counted.looked.each ? "Affiliates together" : "Each affiliate"}
          </Link>
        ) : null}
        {inMoney ? null : (
          <Link
            href={address({ ...counted.looked, forecast: !counted.looked.forecast })}
            className="mr-4 text-label whitespace-nowrap text-slate hover:underline"
          >
            {counted.looked.forecast ? "Without the forecast" : "Forecast over it"}
          </Link>
        )}
        <button
          type="button"
          className="text-label whitespace-nowrap text-slate hover:underline"
          aria-expanded={words}
          onClick={() => setWords(!words)}
        >
          {words ? "Hide the river in words" : "The river in words"} <kbd className="font-sans text-soft">O</kbd>
        </button>
      </div>
      <RiverWords outline={counted.outline} shown={words} />

      <div ref={bench} tabIndex={-1} className="outline-none">
        {step ? (
          <Inspector
            key={step.id}
            draft={draft}
            counted={counted}
            choices={choices}
            step={step}
            onInsert={(outcome) => setPlacing({ after: step.id, outcome })}
            onMove={() => setMoving(true)}
            onOnly={(outcome) => onlyWay({ step: step.id, outcome })}
          />
        ) : null}
        {pool ? (
          <PoolBench key={pool.id} funnel={funnel} river={counted.river} sequence={pool} numbers={counted.mails} />
        ) : null}
      </div>
      {placing ? (
        <InsertStep
          funnel={funnel}
          offers={choices.offers}
          at={placing}
          onClose={() => setPlacing(null)}
          onPlaced={(id) => {
            setPlacing(null)
            focusCard(stepNode(id))
          }}
        />
      ) : null}
      {moving && step ? (
        <MoveStep
          funnel={funnel}
          step={step}
          onClose={() => setMoving(false)}
          onPlaced={(id) => {
            setMoving(false)
            focusCard(stepNode(id || (funnel.steps.find((x) => x.id !== step.id)?.id ?? 0)))
          }}
        />
      ) : null}
      <FunnelFoot
        funnel={funnel}
        live={live !== null}
        past={published.releases.length + draft.changes.length}
        onHistory={() => setOpen("history")}
        onTakeOff={() => setOpen("take-off")}
      />

      {open === "take-off" ? (
        <TakeOff funnel={funnel} underWay={published.underWay} onClose={() => setOpen(null)} onSaid={setSaid} />
      ) : null}
      {open === "history" ? (
        <History
          funnel={funnel.id}
          releases={published.releases}
          changes={draft.changes}
          onClose={() => setOpen(null)}
          onSaid={setSaid}
        />
      ) : null}
      <Dialog
        open={open === "preflight"}
        onOpenChange={(o) => setOpen(o ? "preflight" : null)}
        title={stops.length ? `Preflight: ${stops.length} to fix` : "Preflight: clear"}
        wide
      >
        <PreflightList
          findings={findings}
          funnel={funnel}
          onWiring={(id) => {
            setOpen(null)
            focusCard(stepNode(id))
          }}
        />
      </Dialog>
      <Dialog
        open={open === "publish"}
        onOpenChange={(o) => setOpen(o ? "publish" : null)}
        title="Publishing this would hurt visitors"
        wide
      >
        <PreflightList
          findings={stops}
          funnel={funnel}
          onWiring={(id) => {
            setOpen(null)
            focusCard(stepNode(id))
          }}
        />
        {said ? <p className="mt-3 font-semibold text-dusk">{said}</p> : null}
        <div className="mt-4 flex justify-end gap-2">
          <Button look="danger" disabled={busy} onClick={() => publish(true)}>
            Publish anyway
          </Button>
          <Button look="primary" onClick={() => setOpen(null)}>
            Fix it first
          </Button>
        </div>
      </Dialog>
      <KeysDialog keys={keys} open={open === "keys"} onOpenChange={(o) => setOpen(o ? "keys" : null)} />
      <p className="sr-only">
        <Link href="/studio/funnels">All funnels</Link>
      </p>
    </>
  )
}
