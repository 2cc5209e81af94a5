"use client"

import { useState } from "react"
import { type CashKnown, type ForecastDocument, forecast, forecastSteps } from "@/core/numbers/forecast"
import type { MeasuredStep } from "@/core/numbers/measured"
import { furtherOffers, offerOrders, offersAdd } from "@/core/numbers/what-if"
import { moneyRound, moneyText } from "@/core/offer/money"
import type { OfferTried } from "@/server/numbers/cash"
import { Button } from "@/ui/button"
import { option } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { Table } from "@/ui/table"
import { useAction } from "@/ui/use-action"
import { adoptForecastAction } from "../actions"
import { share } from "../words"
import type { TypedForecast } from "./typed"

/** Further offers otherwise: without one, with another, in another order; and the funnel made so. */
export function WhatIf({
  funnel,
  steps,
  doc,
  cash,
  offers,
  currency,
  onChange,
}: {
  funnel: number
  steps: readonly MeasuredStep[]
  doc: ForecastDocument
  cash: CashKnown
  offers: readonly OfferTried[]
  currency: string
  onChange: (to: Partial<TypedForecast>) => void
}) {
  const further = furtherOffers(steps)
  // As the funnel would be with all of them, in its own order: what each adds is said beside the same whole.
  const whole = forecastSteps(steps, { ...doc, without: [], order: [] }, cash)
  const adds = offersAdd(whole, further)
  const [best] = offerOrders(whole, further)
  const total = (d: ForecastDocument) => forecast(forecastSteps(steps, d, cash), steps, d).total
  const asItIs = { ...doc, without: [], order: [], added: [] }
  const tried = doc.without.length > 0 || doc.order.length > 0 || doc.added.length > 0
  const more = total(doc) - total(asItIs)
  const stands = total({ ...doc, without: [], order: [] })
  const nameOf = (id: number) => further.find((o) => o.id === id)?.name ?? ""
  const { busy, run, refused, answer } = useAction()
  const [adopted, setAdopted] = useState(false)
  if (!further.length && !offers.length) return null
  return (
    <section aria-label="What if" className="mt-8">
      <h2>What if</h2>
      <p className="mt-1 max-w-3xl text-soft">
        Try further offers otherwise. The funnel stays as it is until you adopt it.
      </p>
      {adds.length ? (
        <Table
          className="mt-3 max-w-4xl min-w-[44rem] tabular-nums"
          columns={[
            { says: "Further offer" },
            { says: "Accepted by", right: true, wide: "w-28" },
            { says: "Adds for each", right: true, wide: "w-32" },
            { says: "Better than none from", right: true, wide: "w-44" },
            { says: <span className="pl-4">Try it</span>, key: "without", wide: "w-32" },
          ]}
        >
          {adds.map((o) => (
            <tr key={o.id} className="border-b border-line">
              <td className="max-w-64 truncate py-1.5 pr-3 font-semibold">
                <bdi>{o.name}</bdi>
              </td>
              <td className="text-right">{share(o.rate)}</td>
              <td className="text-right">{moneyText(Math.round(o.adds), currency)}</td>
              <td className="text-right">
                {o.least === null ? "no rate" : o.least === 0 ? "any rate" : share(o.least)}
              </td>
              <td className="pl-4">
                <label className="flex items-center gap-1.5 whitespace-nowrap">
                  <input
                    type="checkbox"
                    className="accent-slate"
                    checked={doc.without.includes(o.id)}
                    aria-label={`Leave out ${o.name}`}
                    onChange={(e) =>
                      onChange({
                        without: e.target.checked ? [...doc.without, o.id] : doc.without.filter((x) => x !== o.id),
                      })
                    }
                  />
                  Leave out
                </label>
              </td>
            </tr>
          ))}
        </Table>
      ) : null}
      {best && best.total > stands * 1.001 && !doc.order.length ? (
        <p className="mt-3 flex flex-wrap items-center gap-3">
          <span>
            In the order {best.order.map(nameOf).join(", then ")} they would bring{" "}
            <strong>{moneyRound(best.total - stands, currency)}</strong> more, if as many accept them there.
          </span>
          <Button onClick={() => onChange({ order: [...best.order] })}>Try this order</Button>
        </p>
      ) : doc.order.length ? (
        <p className="mt-3 flex flex-wrap items-center gap-3">
          <span>Tried in the order {doc.order.map(nameOf).join(", then ")}.</span>
          <Button onClick={() => onChange({ order: [] })}>As it was</Button>
        </p>
      ) : best ? (
        <p className="mt-3 text-soft">No other order of them would bring more.</p>
      ) : null}
      <AddOffer steps={steps} offers={offers} doc={doc} onChange={onChange} />
      {tried ? (
        <div className="mt-3 flex flex-wrap items-center gap-3">
          <p>
            What you try brings{" "}
            <strong>
              {moneyRound(Math.abs(more), currency)} {more >= 0 ? "more" : "less"}
            </strong>{" "}
            than the funnel as it is.
          </p>
          <Button
            disabled={busy}
            onClick={() =>
              run(
                () =>
                  adoptForecastAction(
                    funnel,
                    doc,
                    steps.flatMap((x) => (x.id > 0 ? [x.id] : [])),
                  ),
                () => {
                  setAdopted(true)
                  onChange({ without: [], order: [], added: [] })
                },
              )
            }
          >
            Adopt it in the funnel’s draft
          </Button>
        </div>
      ) : null}
      <p role="status" className="mt-2 text-note">
        {adopted && !answer.refused
          ? "It stands in the draft of the funnel. Publish it there; undo takes it back."
          : ""}
      </p>
      <Refusal>{refused}</Refusal>
    </section>
  )
}

/** Another offer, after something that was sold or turned down. */
function AddOffer({
  steps,
  offers,
  doc,
  onChange,
}: {
  steps: readonly MeasuredStep[]
  offers: readonly OfferTried[]
  doc: ForecastDocument
  onChange: (to: Partial<TypedForecast>) => void
}) {
  const places = steps.flatMap((s) =>
    s.outcomes.flatMap((o) =>
      o.sells || o.turned ? [{ key: `${s.id} ${o.name}`, says: `${s.name}: ${o.done}` }] : [],
    ),
  )
  const [offer, setOffer] = useState(0)
  const [place, setPlace] = useState("")
  if (!offers.length || !places.length) return null
  const select = "max-w-64 rounded-md border border-line bg-card px-2 py-1.5"
  const where = places.some((p) => p.key === place) ? place : places[0]!.key
  const chosen = offers.find((o) => o.id === offer) ?? offers[0]!
  return (
    <div className="mt-3 flex flex-wrap items-center gap-2">
      <select
        aria-label="Offer"
        value={chosen.id}
        className={select}
        onChange={(e) => setOffer(Number(e.target.value))}
      >
        {offers.map((o) => option(o.id, o.name))}
      </select>
      <span>after</span>
      <select aria-label="After" value={where} className={select} onChange={(e) => setPlace(e.target.value)}>
        {places.map((p) => option(p.key, p.says))}
      </select>
      <Button
        disabled={doc.added.length >= 5}
        onClick={() => {
          const [after, outcome] = where.split(" ")
          onChange({
            order: [],
            added: [...doc.added, { offer: chosen.id, name: chosen.name, after: Number(after), outcome: outcome! }],
          })
        }}
      >
        Try it
      </Button>
      {doc.added.length ? (
        <Button
          look="quiet"
          onClick={() => onChange({ added: [], order: [], without: doc.without.filter((w) => w > 0) })}
        >
          Take out what was tried
        </Button>
      ) : null}
    </div>
  )
}
