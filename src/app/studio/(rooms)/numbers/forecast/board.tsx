"use client"

import { useState } from "react"
import { ChainError } from "@/core/numbers/chain"
import { type Forecast, type ForecastDocument, forecast, forecastSteps } from "@/core/numbers/forecast"
import type { MeasuredOutcome, MeasuredStep } from "@/core/numbers/measured"
import { quantile, RateError } from "@/core/numbers/rate"
import type { UnsureStep } from "@/core/numbers/simulate"
import { decimalOf, moneyRound, moneyText, parseAmount } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { Table } from "@/ui/table"
import { useAction } from "@/ui/use-action"
import { saveForecastAction } from "../actions"
import { useWalk } from "../use-walk"
import { share } from "../words"

type Rates = Readonly<Record<"from" | "likely" | "to", string>>

const percentOf = (x: number) => String(Math.round(x * 1000) / 10)
const number = (typed: string) => (typed.trim() === "" ? null : Number(typed.replace(",", ".")))

/** What stands in the fields of the rates, by `step outcome`. */
const typedRates = (doc: ForecastDocument): Record<string, Rates> =>
  Object.fromEntries(
    doc.rates.map((r) => [
      `${r.step} ${r.outcome}`,
      { from: percentOf(r.from), likely: percentOf(r.likely), to: percentOf(r.to) },
    ]),
  )

/** A rate as it is typed: where only the most likely stands, it may be a third less or more; null: nothing is assumed. */
function assumed(typed: Rates | undefined): { from: number; likely: number; to: number } | null {
  const likely = number(typed?.likely ?? "")
  if (!typed || likely === null) return null
  const [from, to] = [number(typed.from), number(typed.to)]
  return {
    from: from === null ? (likely / 100) * 0.67 : from / 100,
    likely: likely / 100,
    to: to === null ? Math.min(1, (likely / 100) * 1.33) : to / 100,
  }
}

/** What is assumed of a funnel, and what comes of it, as it is typed. */
export function ForecastBoard({
  funnel,
  steps: measured,
  planned,
  document: kept,
  currency,
  margin,
}: {
  funnel: number
  steps: readonly MeasuredStep[]
  planned: readonly (readonly [step: number, minor: number])[]
  document: ForecastDocument
  currency: string
  /** What is to be left of what a visitor brings, basis points. */
  margin: number
}) {
  const [typed, setTyped] = useState({
    perDay: String(kept.perDay),
    click: decimalOf(kept.click, currency),
    days: String(kept.days),
  })
  const [rates, setRates] = useState(() => typedRates(kept))
  const [brings, setBrings] = useState<Record<number, string>>(() =>
    Object.fromEntries(kept.brings.map((b) => [b.step, decimalOf(b.amount, currency)])),
  )
  const [joined, setJoined] = useState(kept.joined)
  const { busy, run, refused } = useAction()
  const doc: ForecastDocument = {
    version: 1,
    perDay: number(typed.perDay) ?? 0,
    click: parseAmount(typed.click || "0", currency) ?? 0,
    days: Math.max(1, Math.min(366, Math.round(number(typed.days) ?? 28))),
    joined,
    rates: measured.flatMap((s) =>
      s.outcomes.flatMap((o) => {
        const a = assumed(rates[`${s.id} ${o.name}`])
        return a ? [{ step: s.id, outcome: o.name, ...a }] : []
      }),
    ),
    brings: Object.entries(brings).flatMap(([step, amount]) => {
      const minor = amount.trim() ? parseAmount(amount, currency) : null
      return minor === null ? [] : [{ step: Number(step), amount: minor }]
    }),
  }
  const made = reckon(measured, doc, new Map(planned))
  const walked = useWalk("steps" in made ? made.steps : null, "steps" in made ? made.of.cost : 0)
  const field = (name: keyof typeof typed, label: string) => (
    <TextField
      label={label}
      inputMode="decimal"
      value={typed[name]}
      onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
    />
  )
  return (
    <>
      <div className="mt-4 grid grid-cols-1 gap-x-8 gap-y-4 lg:grid-cols-[22rem_minmax(0,1fr)]">
        <div>
          <div className="grid grid-cols-3 gap-3">
            {field("perDay", "Visitors a day")}
            {field("click", `A click, ${currency}`)}
            {field("days", "Days")}
          </div>
          <div className="mt-3">
            <Check checked={joined} onChange={setJoined} hint="Otherwise what you assume stands alone.">
              Join it with what was counted in 28 days
            </Check>
          </div>
        </div>
        <section aria-label="What comes of it" aria-live="polite">
          {"wrong" in made ? (
            <Refusal>{made.wrong}</Refusal>
          ) : (
            <>
              <p>
                <span className="block font-display text-4xl font-semibold tabular-nums">
                  {moneyRound(made.of.total, currency)}
                </span>
                <span className="text-soft">
                  in {doc.days} days
                  {walked
                    ? `, four times out of five between ${moneyRound(walked.low, currency)} and ${moneyRound(walked.high, currency)}`
                    : ""}
                </span>
              </p>
              <dl className="mt-3 flex flex-wrap gap-x-8 gap-y-2 tabular-nums">
                <Said is="a visitor brings" n={moneyText(Math.round(made.of.perVisitor ?? 0), currency)} />
                <Said
                  is={`is the most a click may cost, ${(margin / 100).toLocaleString(locale)} % left`}
                  n={moneyText(
                    Math.max(0, Math.floor(((made.of.perVisitor ?? 0) * (10_000 - margin)) / 10_000)),
                    currency,
                  )}
                />
                {made.of.perOrder === null ? null : (
                  <Said is="comes of a buyer" n={moneyText(Math.round(made.of.perOrder), currency)} />
                )}
                {made.of.costOfBuyer === null ? null : (
                  <Said is="a buyer costs" n={moneyText(Math.round(made.of.costOfBuyer), currency)} />
                )}
                {made.of.cost > 0 && walked ? <Said is="is the chance to lose money" n={share(walked.loses)} /> : null}
              </dl>
            </>
          )}
        </section>
      </div>
      <Table
        className="mt-5 min-w-[56rem] tabular-nums"
        columns={[
          { says: "Step" },
          { says: "Outcome", wide: "w-28" },
          { says: "Counted", right: true, wide: "w-32" },
          { says: "From, %", right: true, wide: "w-24" },
          { says: "Most likely, %", right: true, wide: "w-28" },
          { says: "To, %", right: true, wide: "w-24" },
          { says: `Brings, ${currency}`, right: true, wide: "w-32" },
          { says: "People", right: true, wide: "w-24" },
        ]}
      >
        {measured.flatMap((s) =>
          s.outcomes.map((o, i) => (
            <Row
              key={`${s.id} ${o.name}`}
              step={i === 0 ? s.name : ""}
              name={s.name}
              outcome={o}
              belief={"steps" in made ? made.steps.find((x) => x.id === s.id)?.outcomes[i] : undefined}
              rates={rates[`${s.id} ${o.name}`] ?? { from: "", likely: "", to: "" }}
              onRates={(r) => setRates({ ...rates, [`${s.id} ${o.name}`]: r })}
              brings={brings[s.id] ?? ""}
              onBrings={(b) => setBrings({ ...brings, [s.id]: b })}
              people={"of" in made ? (made.of.took.get(`${s.id} ${o.name}`) ?? 0) : 0}
              currency={currency}
            />
          )),
        )}
      </Table>
      <div className="mt-4 flex items-center gap-3">
        <Button
          look="primary"
          disabled={busy || "wrong" in made}
          onClick={() => run(() => saveForecastAction(funnel, doc))}
        >
          Keep this forecast
        </Button>
        <Refusal>{refused}</Refusal>
      </div>
      <p className="mt-4 max-w-4xl text-note text-soft">
        Expected exactly, at the mean of each rate; the width is walked by made-up people with rates drawn anew each
        time. A range is meant to hold four times out of five. Grey: what is reckoned with where you assume nothing,
        from what was counted, or what is usual. What is sold brings what was kept of it so far, or its price without
        tax, with 95 of a hundred paying each later charge.
      </p>
    </>
  )
}

/** The forecast of what is typed, or what is wrong with it. */
function reckon(
  measured: readonly MeasuredStep[],
  doc: ForecastDocument,
  planned: ReadonlyMap<number, number>,
): { readonly steps: UnsureStep[]; readonly of: Forecast } | { readonly wrong: string } {
  try {
    const steps = forecastSteps(measured, doc, planned)
    return { steps, of: forecast(steps, measured, doc) }
  } catch (error) {
    if (error instanceof RateError || error instanceof ChainError) return { wrong: error.message }
    throw error
  }
}

function Said({ n, is }: { n: string; is: string }) {
  return (
    <div className="flex flex-col-reverse">
      <dt className="text-note text-soft">{is}</dt>
      <dd className="text-lg font-semibold">{n}</dd>
    </div>
  )
}

const box = "w-20 rounded-md border border-line bg-card px-2 py-1 text-right"

function Row({
  step,
  name,
  outcome: o,
  belief,
  rates,
  onRates,
  brings,
  onBrings,
  people,
  currency,
}: {
  /** Empty in the second row of a step. */
  step: string
  name: string
  outcome: MeasuredOutcome
  belief: UnsureStep["outcomes"][number] | undefined
  rates: Rates
  onRates: (rates: Rates) => void
  brings: string
  onBrings: (brings: string) => void
  people: number
  currency: string
}) {
  const reckoned = { from: 0.1, likely: 0.5, to: 0.9 } as const
  return (
    <tr className="border-b border-line">
      {step ? (
        <th scope="row" className="max-w-60 truncate py-1.5 pr-3 font-semibold">
          <bdi>{step}</bdi>
        </th>
      ) : (
        <td />
      )}
      <td>{o.done}</td>
      <td className="text-right text-soft">
        {o.rate.of ? `${share(o.rate.hits / o.rate.of)} of ${o.rate.of.toLocaleString(locale)}` : "–"}
      </td>
      {(["from", "likely", "to"] as const).map((k) => (
        <td key={k} className="py-1 text-right">
          <input
            inputMode="decimal"
            aria-label={`${name}, ${o.done}: ${k === "likely" ? "most likely" : k}, percent`}
            value={rates[k]}
            placeholder={belief ? percentOf(quantile(belief.rate, reckoned[k])) : ""}
            className={box}
            onChange={(e) => onRates({ ...rates, [k]: e.target.value })}
          />
        </td>
      ))}
      <td className="text-right">
        {o.sells ? (
          <input
            inputMode="decimal"
            aria-label={`${name}: what one who ${o.done} brings`}
            value={brings}
            placeholder={belief ? decimalOf(Math.round(belief.brings), currency) : ""}
            className={box}
            onChange={(e) => onBrings(e.target.value)}
          />
        ) : null}
      </td>
      <td className="text-right">{Math.round(people).toLocaleString(locale)}</td>
    </tr>
  )
}
