import { studio } from "@/app/guard"
import { type FirstToChange, unsureOf, whatFirst } from "@/core/numbers/measured"
import { quantile } from "@/core/numbers/rate"
import { moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { funnelNames, likelyFunnel } from "@/server/numbers/brought"
import { measuredFunnel } from "@/server/numbers/change-view"
import { timesBetween } from "@/server/numbers/times"
import { sellingRules } from "@/server/offer/offer"
import { Button } from "@/ui/button"
import { Link } from "@/ui/link"
import { Table } from "@/ui/table"
import { ChooseFunnel, FirstCame, TitleWithCsv } from "../asked-fields"
import { type AskedNumbers, funnelOf, periodOf } from "../query"
import { Bar, lasting, share } from "../words"
import { Ahead } from "./ahead"

export const metadata = { title: "What to change first" }

/** What one more of a hundred at each step of a funnel would have brought, and what as many visitors as came would bring again. */
export default async function ChangePage({ searchParams }: { searchParams: Promise<AskedNumbers> }) {
  const s = await studio()
  const asked = await searchParams
  const { currency, zone } = await sellingRules(s.db)
  const period = periodOf(asked, zone, await s.clock.now())
  const funnels = await funnelNames(s.db)
  const id = funnelOf(asked) ?? (await likelyFunnel(s.db, period.range, currency))
  const found = await measuredFunnel(s, id, period.range)
  const days = Math.round((period.range.to - period.range.from) / 86_400_000)
  const times = found ? await timesBetween(s.db, found.id, period.range) : new Map<string, number>()
  const { first, of } = whatFirst(found?.steps ?? [])
  const [top] = first
  return (
    <>
      <TitleWithCsv
        title="What to change first"
        href={`/studio/numbers/change/change.csv?funnel=${id}&from=${period.from}&to=${period.to}`}
      />
      <search>
        <form action="/studio/numbers/change" className="mt-3 flex flex-wrap items-center gap-2">
          <ChooseFunnel funnels={funnels} value={id} />
          <FirstCame period={period} />
          <Button type="submit">Show</Button>
        </form>
      </search>
      {!top || top.perPoint <= 0 ? (
        <p className="mt-8 max-w-2xl text-lg">
          Nobody who first came on these days bought anything here yet, so there is nothing to weigh. Choose more days,
          or another funnel.
        </p>
      ) : (
        <>
          <p className="mt-5 max-w-3xl font-display text-2xl leading-snug font-semibold">
            If one more of a hundred at “{top.name}” had {top.outcomeOf.done}, these {days} days would have brought{" "}
            {moneyText(Math.round(top.perPoint), currency)} more: more than any other change of one in a hundred.
          </p>
          <Ahead steps={unsureOf(found!.steps)} exact={of.total} currency={currency} days={days} />
          <Table
            className="mt-6 min-w-[52rem] tabular-nums"
            columns={[
              { says: "Step" },
              { says: "Came", right: true, wide: "w-24" },
              { says: <span className="pl-4">Went on</span>, key: "on", wide: "w-32" },
              { says: "Usually after", right: true, wide: "w-32" },
              { says: "Rate", right: true, wide: "w-40" },
              { says: "One more of a hundred", right: true, wide: "w-44" },
              { says: "At its better quarter", right: true, wide: "w-44" },
            ]}
          >
            {first.map((f) => (
              <Row
                key={`${f.step} ${f.outcome}`}
                row={f}
                after={times.get(`${f.step} ${f.outcome}`)}
                funnel={id}
                currency={currency}
                most={top.perPoint}
              />
            ))}
          </Table>
          <p className="mt-4 max-w-4xl text-note text-soft">
            Reckoned exactly, from the shares that were counted and from what was kept of orders at each step: income
            less tax, refunds, fees and commissions. Whoever takes a further offer would have declined it; everybody
            else would have left. Usually after: half of those who went took no longer. The rate lies within the
            brackets nineteen times out of twenty, and at its better quarter or above once in four.
          </p>
        </>
      )}
    </>
  )
}

function Row({
  row: f,
  after,
  funnel,
  currency,
  most,
}: {
  row: FirstToChange
  /** ms; undefined: too few went. */
  after: number | undefined
  funnel: number
  currency: string
  most: number
}) {
  const { rate, belief, done } = f.outcomeOf
  return (
    <tr className="border-b border-line align-top">
      <td className="max-w-60 truncate py-1.5 pr-3">
        <Link href={`/studio/funnels/${funnel}?step=s${f.step}`} className="font-semibold text-slate hover:underline">
          <bdi>{f.name}</bdi>
        </Link>
      </td>
      <td className="text-right">{rate.of.toLocaleString(locale)}</td>
      <td className="pl-4">{done}</td>
      <td className="text-right">{after === undefined ? "–" : lasting(after)}</td>
      <td className="text-right">
        {share(rate.hits / rate.of)}
        <span className="block whitespace-nowrap text-fine text-soft">
          ({share(quantile(belief, 0.025))}–{share(quantile(belief, 0.975))})
        </span>
      </td>
      <td className="pl-6 text-right">
        <strong>{moneyText(Math.round(f.perPoint), currency)}</strong>
        <Bar part={f.perPoint / most} />
      </td>
      <td className="text-right">
        {moneyText(Math.round(f.better.brings), currency)}
        <span className="block text-fine text-soft">at {share(f.better.rate)}</span>
      </td>
    </tr>
  )
}
