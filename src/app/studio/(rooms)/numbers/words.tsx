// Shares, amounts and changes, as tables of Numbers say them.
import type { Device } from "@/core/device"
import type { Each, Paid } from "@/core/numbers/brought"
import { moneyText } from "@/core/offer/money"
import type { Proportion } from "@/core/proportion"
import { locale } from "@/core/words/locale"

const percent = new Intl.NumberFormat(locale, { style: "percent", minimumFractionDigits: 1, maximumFractionDigits: 1 })
export const share = (x: number) => percent.format(x)

const spans = [
  ["day", 86_400_000],
  ["hour", 3_600_000],
  ["minute", 60_000],
  ["second", 1_000],
] as const

/** How long something takes, in its largest unit: "3 days". */
export function lasting(ms: number): string {
  const [unit, one] = spans.find(([, each]) => ms >= 1.5 * each) ?? spans[3]
  return new Intl.NumberFormat(locale, { style: "unit", unit, unitDisplay: "long", maximumFractionDigits: 0 }).format(
    Math.max(1, ms / one),
  )
}

/** A count, and below it which share it is, with the interval in which the share may lie. */
export function CountCell({ n, of }: { n: number; of: Proportion | null }) {
  return (
    <td className="pl-4 text-right align-top">
      {n === 0 ? "–" : n.toLocaleString(locale)}
      {of && of.of > 0 ? (
        <span className="block whitespace-nowrap text-note text-soft">
          {share(of.hits / of.of)} <span className="text-fine">({`${share(of.low)}–${share(of.high)}`})</span>
        </span>
      ) : null}
    </td>
  )
}

/** An amount for each, and below it where it may lie. */
export function EachCell({ value, currency }: { value: Each | null; currency: string }) {
  return (
    <td className="pl-4 text-right align-top">
      {value === null || value.each === 0 ? "–" : moneyText(Math.round(value.each), currency)}
      {value && value.high > value.low ? (
        <span className="block whitespace-nowrap text-fine text-soft">
          ({moneyText(Math.round(value.low), currency)}–{moneyText(Math.round(value.high), currency)})
        </span>
      ) : null}
    </td>
  )
}

/** How far from what it was: "+12 %"; nothing where there was nothing. */
export function Change({ now, before }: { now: number; before: number }) {
  if (before <= 0) return null
  const by = Math.round((now / before - 1) * 100)
  return (
    <span className="block whitespace-nowrap text-note text-soft">
      {by > 0 ? "+" : by < 0 ? "−" : ""}
      {Math.abs(by).toLocaleString(locale)} %
    </span>
  )
}

export const deviceNames: Readonly<Record<Device, string>> = {
  phone: "Phone",
  tablet: "Tablet",
  computer: "Computer",
  unknown: "Not known",
}

export const verdicts: Readonly<Record<Paid, { readonly says: string; readonly tone: string }>> = {
  paid: { says: "It paid", tone: "text-reed" },
  lost: { says: "It didn’t pay", tone: "text-dusk" },
  open: { says: "Can’t be told yet", tone: "text-soft" },
}

/** A part of a whole, drawn below the number that says it. */
export const Bar = ({ part }: { part: number }) => (
  <span aria-hidden="true" className="mt-1 block h-1.5 rounded-full bg-shallow">
    <span className="ml-auto block h-full rounded-full bg-slate" style={{ width: `${Math.max(0, 100 * part)}%` }} />
  </span>
)
