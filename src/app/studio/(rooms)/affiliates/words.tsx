// What affiliates bring, as it is said in tables.
import type { Odd } from "@/core/affiliate/odd"
import { moneyText } from "@/core/offer/money"
import { figures } from "@/core/words/figures"
import { locale } from "@/core/words/locale"
import type { Brings, Money } from "@/server/affiliate/report"

export const count = (n: number) => (n === 0 ? "–" : n.toLocaleString(locale))

/** Amounts of each currency, one below the other; a dash where there is none. */
export function Amounts({ money, of }: { money: readonly Money[]; of: (m: Money) => number }) {
  const some = money.filter((m) => m.net !== 0 || m.commission !== 0)
  if (!some.length) return <>–</>
  return some.map((m) => (
    <span key={m.currency} className="block">
      {of(m) === 0 ? "–" : moneyText(of(m), m.currency)}
    </span>
  ))
}

export const left = (m: Money) => m.net - m.back - m.commission

export function oddText(o: Odd): string {
  switch (o.kind) {
    case "clicks-only":
      return `${o.clicks.toLocaleString(locale)} clicks, and nobody new`
    case "all-refunded":
      return `all ${o.sales} sales were refunded`
    case "one-connection":
      return `${o.sales} of ${o.of} sales came from one connection`
    case "quiet":
      return `no click for ${o.days} days`
  }
}

/** The numbers of what was brought, as cells of a row. */
export function BroughtCells({ b, clicks = true }: { b: Brings; clicks?: boolean }) {
  return (
    <>
      {clicks ? (
        <>
          <td className="py-1.5 text-right">{count(b.clicks)}</td>
          <td className="py-1.5 text-right">{count(b.joins)}</td>
        </>
      ) : null}
      <td className="py-1.5 text-right">{count(b.sales)}</td>
      <td className="py-1.5 text-right">
        <Amounts money={b.money} of={(m) => m.net} />
      </td>
      <td className="py-1.5 text-right">
        <Amounts money={b.money} of={(m) => m.back} />
      </td>
      <td className="py-1.5 text-right">
        <Amounts money={b.money} of={(m) => m.commission} />
      </td>
      <td className="py-1.5 text-right">
        <Amounts money={b.money} of={left} />
      </td>
    </>
  )
}

export const broughtColumns = (clicks = true) => [
  ...(clicks
    ? [
        { says: "Clicks", wide: "w-16", right: true },
        { says: figures.newPeople.name, wide: "w-24", right: true },
      ]
    : []),
  { says: "Sales", wide: "w-14", right: true },
  { says: "Net", wide: "w-28", right: true },
  { says: "Refunded", wide: "w-24", right: true },
  { says: "Commission", wide: "w-28", right: true },
  { says: "Left", wide: "w-28", right: true },
]
