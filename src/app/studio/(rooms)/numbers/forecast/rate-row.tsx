import type { MeasuredOutcome } from "@/core/numbers/measured"
import { quantile } from "@/core/numbers/rate"
import type { UnsureStep } from "@/core/numbers/simulate"
import { decimalOf } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { share } from "../words"
import { percentOf, type Rates } from "./typed"

export const box = "w-20 rounded-md border border-line bg-card px-2 py-1 text-right"

export function RateRow({
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
