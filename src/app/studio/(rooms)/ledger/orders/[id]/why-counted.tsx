import { rateWords } from "@/core/affiliate/words"
import { moneyText } from "@/core/offer/money"
import type { Explained } from "@/server/affiliate/explain"
import { NameLink, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { day, studioMoment } from "../../../words"
import { MoveSale } from "./move-sale"

/** Who recommended it, why it counted for one and not for another, and what was earned by it. */
export function WhyCounted({
  sale,
  order,
  paid,
  zone,
}: {
  sale: Explained | undefined
  order: number
  paid: boolean
  zone: string
}) {
  if (!sale || (!paid && !sale.chain.length)) return null
  return (
    <section id="why" aria-label="Who recommended it">
      <div className="flex flex-wrap items-baseline justify-between gap-4">
        <h2>Who recommended it</h2>
        {sale.movable && sale.others.length + (sale.affiliate === null ? 0 : 1) > 0 ? (
          <MoveSale order={order} others={sale.others} counts={sale.name} />
        ) : null}
      </div>
      <p className="mt-1">{sale.says}</p>
      {sale.moved ? (
        <p className="mt-1">
          Given by hand to {sale.name ?? "nobody"} on {studioMoment(sale.moved.at, zone)}: “{sale.moved.why}”
        </p>
      ) : null}
      {sale.chain.length ? (
        <Table
          className="mt-2 text-body"
          columns={[{ says: "Mentioned", wide: "w-44" }, { says: "By" }, { says: "How" }, { says: "What came of it" }]}
        >
          {sale.chain.map((m) => (
            <tr
              key={`${m.affiliate}:${m.at}:${m.kind}`}
              className={`border-b border-line ${m.verdict === "counts" ? "font-semibold" : ""}`}
            >
              <td className="py-1">{studioMoment(m.at, zone)}</td>
              <td>
                <NameLink href={`/studio/affiliates/${m.affiliate}`}>
                  <bdi>{m.name}</bdi>
                </NameLink>
              </td>
              <td>{m.kind === "coupon" ? "coupon" : m.sub ? `link “${m.sub}”` : "link"}</td>
              <td className={m.verdict === "counts" ? "text-amber-text" : "text-soft"}>{m.says}</td>
            </tr>
          ))}
        </Table>
      ) : null}
      {sale.earned.length ? (
        <Table
          className="mt-3 text-body tabular-nums"
          columns={[
            { says: "Commission", wide: "w-44" },
            { says: "For" },
            { says: "From", right: true },
            { says: "Rate", right: true },
            { says: "Amount", right: true },
            { says: "Due", right: true },
          ]}
        >
          {sale.earned.map((e) => (
            <tr key={e.id} className="border-b border-line">
              <td className="py-1">
                {e.name}
                {e.level === 2 ? <span className="text-soft">, second level</span> : null}
              </td>
              <td className="max-w-56 truncate">
                {e.what}
                {
                  { earned: "", back: ", refunded", moved: ", given to another", "written-off": ", written off" }[
                    e.kind
                  ]
                }
              </td>
              <td className="text-right">{e.base ? moneyText(e.base, e.currency) : "–"}</td>
              <td className="text-right">{e.rate ? rateWords(e.rate, e.currency) : "–"}</td>
              <td className={`text-right ${e.amount < 0 ? "text-dusk" : ""}`}>{moneyText(e.amount, e.currency)}</td>
              <td className="text-right">
                {e.payout ? (
                  <TextLink href={`/studio/affiliates/payouts/${e.payout}`}>P{e.payout}</TextLink>
                ) : (
                  day(e.due, zone)
                )}
              </td>
            </tr>
          ))}
        </Table>
      ) : null}
      {sale.earned.length ? (
        <p className="mt-1 text-note text-soft">The rate is the one that held when it was bought. {sale.rule}</p>
      ) : null}
    </section>
  )
}
