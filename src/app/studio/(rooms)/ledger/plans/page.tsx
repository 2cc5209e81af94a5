import { studio } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { locale } from "@/core/words/locale"
import { comingIn, countPlans, listPlans, type PlanStateListed, planPage } from "@/server/ledger/plans"
import { schoolZone } from "@/server/school-view"
import { Link } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { Table } from "@/ui/table"
import { day } from "../../words"
import { ComingChart } from "./coming-chart"

export const metadata = { title: "Plans" }

const states = {
  running: "running",
  behind: "behind: the card was refused",
  ended: "ended",
  finished: "paid to the end",
} as const

export default async function PlansPage({
  searchParams,
}: {
  searchParams: Promise<{ state?: string; page?: string }>
}) {
  const s = await studio()
  const asked = await searchParams
  const state = Object.hasOwn(states, asked.state ?? "") ? (asked.state as PlanStateListed) : null
  const page = Math.max(0, (Number(asked.page) || 1) - 1)
  const zone = await schoolZone(s.db)
  const counts = await countPlans(s.db)
  const plans = await listPlans(s.db, state, page)
  const coming = await comingIn(s.db, await s.clock.now(), zone)
  const total = state ? counts[state] : Object.values(counts).reduce((a, b) => a + b, 0)
  const href = (change: { state?: string; page?: number }) => {
    const next = new URLSearchParams()
    const wanted = change.state ?? state
    if (wanted) next.set("state", wanted)
    if (change.page) next.set("page", String(change.page + 1))
    return `/studio/ledger/plans?${next}`
  }
  return (
    <>
      <h1 className="mt-4">Plans: what goes on being paid</h1>
      {coming.length === 0 ? (
        <p className="mt-4 text-lg">
          Nothing goes on being paid. Instalments and subscriptions stand here once somebody has bought them.
        </p>
      ) : null}
      {coming.map((c) => (
        <section key={c.currency} aria-label={`What comes in, ${c.currency}`} className="mt-4">
          <h2>
            {moneyText(
              c.months.reduce((sum, m) => sum + m.instalments + m.subscriptions, 0),
              c.currency,
            )}{" "}
            <span className="font-sans text-base font-normal text-soft">
              in this month and the eleven after it, if every charge goes well and nobody ends a subscription
            </span>
          </h2>
          <ComingChart currency={c.currency} months={c.months} />
        </section>
      ))}
      <nav aria-label="Which plans" className="mt-6 flex flex-wrap gap-4">
        <Link
          href="/studio/ledger/plans"
          aria-current={state === null ? "page" : undefined}
          className={state === null ? "font-semibold" : "text-slate hover:underline"}
        >
          all
        </Link>
        {(Object.keys(states) as PlanStateListed[]).map((k) => (
          <Link
            key={k}
            href={href({ state: k })}
            aria-current={state === k ? "page" : undefined}
            className={state === k ? "font-semibold" : "text-slate hover:underline"}
          >
            {states[k]} ({counts[k].toLocaleString(locale)})
          </Link>
        ))}
      </nav>
      {plans.length ? (
        <Table
          className="mt-2 table-fixed min-w-[58rem]"
          columns={[
            { says: "Who", wide: "w-60" },
            { says: "For", wide: "w-48" },
            { says: "As agreed" },
            { says: "Status", wide: "w-40" },
            { says: "Next", wide: "w-44", right: true },
          ]}
        >
          {plans.map((p) => (
            <tr key={p.id} className="border-b border-line align-top">
              <td className="truncate py-1.5 pr-3">
                <Link href={`/studio/ledger/orders/${p.order_id}`} className="font-semibold text-slate hover:underline">
                  {p.buyer || p.email}
                </Link>
              </td>
              <td className="truncate py-1.5 pr-3">
                <bdi>{p.name}</bdi>
              </td>
              <td className="py-1.5 pr-3 text-note text-soft">{p.says}</td>
              <td className={`py-1.5 ${p.state === "behind" ? "text-dusk" : ""}`}>
                {p.state === "behind"
                  ? `behind, refused ${p.failed === 1 ? "once" : `${p.failed} times`}`
                  : p.state === "ended"
                    ? `ended: ${p.ended_why ?? ""}`
                    : states[p.state]}
              </td>
              <td className="py-1.5 text-right">
                {p.next ? (
                  <>
                    {moneyText(p.next.gross, p.currency)}
                    <span className="block text-note text-soft">
                      {p.state === "behind" ? `again on ${day(p.try_at, zone)}` : dayText(p.next.day)}
                    </span>
                  </>
                ) : p.ended_at ? (
                  <span className="text-soft">{day(p.ended_at, zone)}</span>
                ) : null}
              </td>
            </tr>
          ))}
        </Table>
      ) : coming.length ? (
        <p className="mt-3">No plan has this status.</p>
      ) : null}
      <Pager page={page} size={planPage} shown={plans.length} total={total} href={(n) => href({ page: n })} />
    </>
  )
}
