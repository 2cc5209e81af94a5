"use client"

import { useState } from "react"
import type { SaleCash } from "@/core/numbers/cash"
import { ChainError } from "@/core/numbers/chain"
import {
  type CashKnown,
  type Forecast,
  type ForecastDocument,
  type ForecastStep,
  forecast,
  forecastSteps,
} from "@/core/numbers/forecast"
import type { MeasuredOutcome, MeasuredStep } from "@/core/numbers/measured"
import { RateError } from "@/core/numbers/rate"
import { withAdded } from "@/core/numbers/what-if"
import { moneyRound, moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import type { OfferTried } from "@/server/numbers/cash"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { Table } from "@/ui/table"
import { useAction } from "@/ui/use-action"
import { saveForecastAction } from "../actions"
import { useWalk } from "../use-walk"
import { share } from "../words"
import { CashAhead } from "./cash-ahead"
import { RateRow } from "./rate-row"
import { Sources } from "./sources"
import { documentOf, moneyFields, percentOf, type TypedForecast, typedOf } from "./typed"
import { WhatIf } from "./what-if"

const moneyLabels: Readonly<Record<(typeof moneyFields)[number], string>> = {
  later: "Pay each later charge, %",
  refunds: "Refunds, %",
  fees: "Processor’s fees, %",
  commissions: "Commissions, %",
}

/** What is assumed of a funnel, and what comes of it, as it is typed. */
export function ForecastBoard({
  funnel,
  steps: asItIs,
  cash,
  blank,
  offers,
  document: kept,
  currency,
  margin,
  spread,
}: {
  funnel: number
  steps: readonly MeasuredStep[]
  cash: CashKnown
  /** The outcomes of a further offer of which nothing is known. */
  blank: readonly MeasuredOutcome[]
  offers: readonly OfferTried[]
  document: ForecastDocument
  currency: string
  /** What is to be left of what a visitor brings, basis points. */
  margin: number
  /** How much more visitors vary from day to day than by chance. */
  spread: number
}) {
  const [typed, setTyped] = useState<TypedForecast>(() => typedOf(kept, currency))
  const { busy, run, refused } = useAction()
  const change = (to: Partial<TypedForecast>) => setTyped((t) => ({ ...t, ...to }))
  const steps = withAdded(asItIs, typed.added, blank)
  const doc = documentOf(typed, steps, currency)
  const known: CashKnown = { ...cash, sales: new Map([...cash.sales, ...plannedOf(typed.added, offers)]) }
  const made = reckon(steps, doc, known)
  const walked = useWalk("steps" in made ? made.steps : null, "steps" in made ? made.of.cost : 0, spread)
  return (
    <>
      <div className="mt-4 grid grid-cols-1 gap-x-10 gap-y-4 lg:grid-cols-[24rem_minmax(0,1fr)]">
        <div>
          <Sources
            sources={typed.sources}
            onSources={(sources) => change({ sources })}
            currency={currency}
            perVisitor={"of" in made ? made.of.perVisitor : null}
          />
          <div className="mt-3 grid grid-cols-[6rem_1fr] items-end gap-3">
            <TextField
              label="Days"
              inputMode="numeric"
              value={typed.days}
              onChange={(e) => change({ days: e.target.value })}
            />
            <Check checked={typed.joined} onChange={(joined) => change({ joined })}>
              Join it with the last 28 days
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
                  within two years, from visitors of {doc.days} days
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
                {made.of.perJoined === null ? null : (
                  <Said is="comes of each who joins" n={moneyText(Math.round(made.of.perJoined), currency)} />
                )}
                {made.of.perOrder === null ? null : (
                  <Said is="comes of a buyer" n={moneyText(Math.round(made.of.perOrder), currency)} />
                )}
                {made.of.costOfBuyer === null ? null : (
                  <Said is="a buyer costs" n={moneyText(Math.round(made.of.costOfBuyer), currency)} />
                )}
                {made.of.cost > 0 && walked ? <Said is="is the chance to lose money" n={share(walked.loses)} /> : null}
              </dl>
              <div className="mt-4 flex items-center gap-3">
                <Button look="primary" disabled={busy} onClick={() => run(() => saveForecastAction(funnel, doc))}>
                  Keep this forecast
                </Button>
                <span className="text-note text-soft">It is laid beside what happens, from tomorrow on.</span>
                <Refusal>{refused}</Refusal>
              </div>
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
        {steps.flatMap((s) =>
          s.outcomes.map((o, i) => (
            <RateRow
              key={`${s.id} ${o.name}`}
              step={i === 0 ? s.name : ""}
              name={s.name}
              outcome={o}
              belief={
                "steps" in made
                  ? made.steps.find((x) => x.id === s.id)?.outcomes.find((x) => x.name === o.name)
                  : undefined
              }
              rates={typed.rates[`${s.id} ${o.name}`] ?? { from: "", likely: "", to: "" }}
              onRates={(r) => change({ rates: { ...typed.rates, [`${s.id} ${o.name}`]: r } })}
              brings={typed.brings[s.id] ?? ""}
              onBrings={(b) => change({ brings: { ...typed.brings, [s.id]: b } })}
              people={"of" in made ? (made.of.took.get(`${s.id} ${o.name}`) ?? 0) : 0}
              currency={currency}
            />
          )),
        )}
      </Table>
      <fieldset className="mt-4 grid max-w-3xl grid-cols-2 gap-3 md:grid-cols-4">
        <legend className="sr-only">Shares of money that is still to come</legend>
        {moneyFields.map((f) => (
          <TextField
            key={f}
            label={moneyLabels[f]}
            inputMode="decimal"
            value={typed.money[f]}
            placeholder={percentOf(cash.shares[f])}
            onChange={(e) => change({ money: { ...typed.money, [f]: e.target.value } })}
          />
        ))}
      </fieldset>
      <p className="mt-3 max-w-4xl text-note text-soft">
        Expected exactly, at the mean of each rate; the width is walked by made-up people with rates drawn anew each
        time. A range is meant to hold four times out of five. Grey: what is reckoned with where you assume nothing,
        from what was counted, or what is usual. A sale brings in two years what was kept of sales so far, month by
        month, and after that what its plan says, less these shares; tax is out.
      </p>
      {"steps" in made ? (
        <>
          <WhatIf
            funnel={funnel}
            steps={steps}
            doc={doc}
            cash={known}
            offers={offers}
            currency={currency}
            onChange={change}
          />
          <CashAhead months={made.of.months} currency={currency} />
        </>
      ) : null}
    </>
  )
}

/** What the offers that are tried are planned to bring, by their steps. */
const plannedOf = (added: ForecastDocument["added"], offers: readonly OfferTried[]): [number, SaleCash][] =>
  added.map((a, i) => [-(i + 1), { seen: [], planned: offers.find((o) => o.id === a.offer)?.planned ?? [] }])

/** The forecast of what is typed, or what is wrong with it. */
function reckon(
  steps: readonly MeasuredStep[],
  doc: ForecastDocument,
  cash: CashKnown,
): { readonly steps: ForecastStep[]; readonly of: Forecast } | { readonly wrong: string } {
  try {
    const made = forecastSteps(steps, doc, cash)
    return { steps: made, of: forecast(made, steps, doc) }
  } catch (error) {
    if (error instanceof RateError || error instanceof ChainError) return { wrong: error.message }
    if (error instanceof RangeError) return { wrong: "A share of money lies between 0 and 100 %." }
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
