import { studio } from "@/app/guard"
import type { Device } from "@/core/device"
import { type BroughtBy, boughtOf, broughtBys, joinedOf, perJoined } from "@/core/numbers/brought"
import { whatFirst } from "@/core/numbers/measured"
import { moneyRound, moneyText } from "@/core/offer/money"
import { isChosen } from "@/core/person/field"
import { codeOfSource } from "@/core/source"
import { countedAs } from "@/core/words/figures"
import { locale } from "@/core/words/locale"
import type { Context } from "@/server/context"
import { robotsIn } from "@/server/funnel/robots"
import { funnelNames, mostKept } from "@/server/numbers/brought"
import { type BroughtRow, broughtTable, type Period } from "@/server/numbers/brought-view"
import { measuredFunnel } from "@/server/numbers/change-view"
import { daysOver } from "@/server/numbers/days-view"
import { sellingRules } from "@/server/offer/offer"
import { listFields } from "@/server/person/field"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { OnlyWith } from "@/ui/filter"
import { Link, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { FirstCame, OneFunnel, TitleWithCsv } from "./asked-fields"
import { nameOfDay } from "./days/day"
import { DaysChart } from "./days/days-chart"
import { Margin } from "./margin"
import { type AskedNumbers, byOf, periodOf, tableOf } from "./query"
import { Bar, Change, CountCell, deviceNames, EachCell, verdicts } from "./words"

export const metadata = { title: "Numbers" }

/** What each source, funnel, offer … brought of those who first came in some days. */
export default async function NumbersPage({ searchParams }: { searchParams: Promise<AskedNumbers> }) {
  const s = await studio()
  const asked = await searchParams
  const period = periodOf(asked, await schoolZone(s.db), await s.clock.now())
  const { by, field } = byOf(asked)
  const of = tableOf(asked)
  const table = await broughtTable(s, by, period, of)
  const [funnels, fields] = [await funnelNames(s.db), (await listFields(s.db)).filter(isChosen)]
  const { row, came, did, journeys } = broughtBys[by]
  const query = new URLSearchParams(Object.entries(asked).flatMap(([k, v]) => (v ? [[k, v]] : [])))
  const { all, currency, margin } = table
  const costs = table.rows.some((r) => r.cost !== null)
  const robots = journeys ? await robotsIn(s.db, period.range, of.funnel ?? null) : 0
  return (
    <>
      <TitleWithCsv title="Numbers" href={`/studio/numbers/brought.csv?${query}`} />
      <search>
        <form action="/studio/numbers" className="mt-3 flex flex-wrap items-center gap-2">
          <OnlyWith
            name="by"
            label="By"
            any="By source"
            value={by === "source" ? null : (asked.by ?? null)}
            options={[
              ...(["funnel", "offer", "sequence", "webinar", "coupon", "device"] as const).map((b) => ({
                value: b,
                says: `By ${broughtBys[b].row.toLowerCase()}`,
              })),
              ...fields.map((f) => ({ value: `field-${f.id}`, says: `By “${f.label}”` })),
            ]}
          />
          {journeys || by === "offer" ? <OneFunnel funnels={funnels} value={of.funnel ?? null} /> : null}
          {journeys ? (
            <OnlyWith
              name="credit"
              label="A purchase counts"
              any="Sales by first visit"
              value={of.credit === "made" ? "made" : null}
              options={[{ value: "made", says: "Sales where made" }]}
            />
          ) : null}
          <FirstCame period={period} />
          <Button type="submit">Show</Button>
        </form>
      </search>
      {journeys && all.click !== null ? <Worth all={all} currency={currency} margin={margin} /> : null}
      {table.rows.length > 0 ? (
        <Table
          className="mt-5 min-w-[66rem] tabular-nums"
          columns={[
            { says: fields.find((f) => f.id === field)?.label ?? row },
            ...(came ? [{ says: came, right: true, wide: "w-24" }] : []),
            ...(did ? [{ says: did, right: true, wide: "w-44" }] : []),
            { says: "Bought", right: true, wide: "w-44" },
            { says: "Income", right: true, wide: "w-28" },
            ...(came
              ? [{ says: journeys ? "Kept of a visitor" : "Kept of each", right: true, wide: "w-36" }]
              : [{ says: "Kept", right: true, wide: "w-28" }]),
            ...(journeys ? [{ says: "Most for a click", right: true, wide: "w-36" }] : []),
            ...(costs
              ? [
                  { says: "Cost", right: true, wide: "w-36" },
                  { says: "Return", right: true, wide: "w-40" },
                ]
              : []),
          ]}
        >
          {[...table.rows.slice(0, 200), ...(journeys ? [all] : [])].map((r) => (
            <Row key={r.key || "all"} row={r} by={by} currency={currency} costs={costs} whole={r === all} />
          ))}
        </Table>
      ) : (
        <p className="mt-8 text-lg">{nobody[by]}</p>
      )}
      {journeys ? <Ahead s={s} period={period} asked={of.funnel ?? null} /> : null}
      {table.rows.length > 200 ? <p className="mt-2 text-soft">The first 200 are shown; the CSV has all.</p> : null}
      <p className="mt-4 max-w-4xl text-note text-soft">
        {basis[by]} Below each, against as many days before. In brackets is where the true value lies, nineteen times
        out of twenty.{" "}
        {journeys
          ? `Programs that search engines and others send are left out: they looked ${robots === 1 ? "once" : `${robots.toLocaleString(locale)} times`}. Somebody who came on two devices counts once in each funnel as soon as they are known. `
          : ""}
        {countedAs(journeys ? ["visited", "joined", "bought", "income", "kept"] : ["income", "kept"])}
      </p>
    </>
  )
}

const firstCame = "All of it is of those who first came on these days, by now."
const basis: Readonly<Record<BroughtBy, string>> = {
  source: firstCame,
  funnel: firstCame,
  device: firstCame,
  offer:
    "All of it is of those who first came on these days, by now. Whoever came to a page that sells the offer saw it. What was paid for several offers at once is shared by their prices.",
  sequence:
    "All of it is of those who began the sequence on these days, by now. An order counts for every sequence that its buyer had begun by then.",
  webinar:
    "All of it is of those who had a seat on these days, by now. An order counts for every webinar for which its buyer had a seat by then.",
  coupon: "All of it is of orders that were made on these days, by now.",
  field: "All of it is of people who joined on these days, and what they bought since.",
}

const nobody: Readonly<Record<BroughtBy, string>> = {
  source: "Nobody came for the first time on these days.",
  funnel: "Nobody came for the first time on these days.",
  device: "Nobody came for the first time on these days.",
  offer: "No offer was seen or sold on these days.",
  sequence: "Nobody began a sequence on these days.",
  webinar: "Nobody registered for a webinar on these days.",
  coupon: "No coupon was used on these days.",
  field: "Nobody who joined on these days has answered it.",
}

/** Of the funnel that is asked for, or of which most was kept: its forecast over what happened, and what to change first. */
async function Ahead({ s, period, asked }: { s: Context; period: Period; asked: number | null }) {
  const { currency } = await sellingRules(s.db)
  const funnel = asked ?? (await mostKept(s.db, period.range, currency))
  const found = funnel === null ? undefined : await measuredFunnel(s, funnel, period.range)
  if (!found) return null
  const over = await daysOver(s, found.id)
  const first = whatFirst(found.steps)
    .first.filter((f) => f.perPoint > 0)
    .slice(0, 4)
  return (
    <section
      aria-label={`Ahead: ${found.name}`}
      className="mt-6 grid grid-cols-1 gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_20rem]"
    >
      <div>
        <div className="flex flex-wrap items-baseline justify-between gap-x-4">
          <h2>
            <bdi>{found.name}</bdi>: forecast over what happened
          </h2>
          {over.of > 0 ? (
            <TextLink href={`/studio/numbers/days?funnel=${found.id}`}>
              {over.within} of {over.of} days within
            </TextLink>
          ) : null}
        </div>
        {over.latest ? (
          <>
            <p className="mt-1 text-soft">
              Visitors of the {over.latest.days} days from {nameOfDay(over.latest.firstDay)} on will bring{" "}
              <strong className="text-ink">{moneyRound(over.latest.document.total, currency)}</strong>, four times out
              of five between {moneyRound(over.latest.document.low, currency)} and{" "}
              {moneyRound(over.latest.document.high, currency)}.
            </p>
            <DaysChart days={over.days} currency={currency} />
          </>
        ) : (
          <p className="mt-1 text-soft">
            Nothing is forecast yet.{" "}
            <TextLink href={`/studio/numbers/forecast?funnel=${found.id}`}>Make a forecast</TextLink>
          </p>
        )}
      </div>
      {first.length ? (
        <div>
          <h2>Change this first</h2>
          <p className="mt-1 text-note text-soft">What one more of a hundred would have brought on these days.</p>
          <ul className="mt-2 space-y-2.5 tabular-nums">
            {first.map((f) => (
              <li key={`${f.step} ${f.outcome}`}>
                <span className="flex items-baseline justify-between gap-3">
                  <span className="min-w-0 truncate">
                    <bdi>{f.name}</bdi>: {f.outcomeOf.done}
                  </span>
                  <strong>+ {moneyRound(f.perPoint, currency)}</strong>
                </span>
                <Bar part={f.perPoint / first[0]!.perPoint} />
              </li>
            ))}
          </ul>
          <p className="mt-3">
            <TextLink href={`/studio/numbers/change?funnel=${found.id}`}>All of them</TextLink>
          </p>
        </div>
      ) : null}
    </section>
  )
}

/** What came, in two sentences, and what one may pay for a click. */
function Worth({ all, currency, margin }: { all: BroughtRow; currency: string; margin: number }) {
  const { now, value } = all
  const each = perJoined(now)
  return (
    <section aria-label="What a visitor is worth" className="mt-4 max-w-4xl">
      <p className="font-display text-2xl leading-snug">
        <strong>{now.visited.toLocaleString(locale)}</strong> {now.visited === 1 ? "person" : "people"} came,{" "}
        <strong>{now.joined.toLocaleString(locale)}</strong> joined,{" "}
        <strong>{now.bought.toLocaleString(locale)}</strong> bought for{" "}
        <strong>{moneyText(now.income, currency)}</strong>.
        {value ? (
          <>
            {" "}
            A visitor was worth <strong>{moneyText(Math.round(value.each), currency)}</strong>{" "}
            {value.high > value.low ? (
              <span className="text-soft">
                ({moneyText(Math.round(value.low), currency)} to {moneyText(Math.round(value.high), currency)})
              </span>
            ) : null}
            {each === null ? "" : `, an address ${moneyText(Math.round(each), currency)}`}. You may pay up to{" "}
            <strong>{moneyText(all.click ?? 0, currency)}</strong> for a click.
          </>
        ) : null}
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-soft">
        <span>Worth is what was kept after tax, refunds, fees and commissions.</span>
        <Margin percent={margin / 100} />
      </div>
    </section>
  )
}

function Row({
  row: r,
  by,
  currency,
  costs,
  whole,
}: {
  row: BroughtRow
  by: BroughtBy
  currency: string
  costs: boolean
  whole: boolean
}) {
  const { came, did, journeys } = broughtBys[by]
  return (
    <tr className={`border-b border-line align-top ${whole ? "font-semibold" : ""}`}>
      <td className="max-w-56 truncate py-1.5 pr-3">
        {by === "funnel" && !whole ? (
          <Link href={`/studio/numbers/change?funnel=${r.key}`} className="text-slate hover:underline">
            <bdi>{r.name}</bdi>
          </Link>
        ) : (
          <bdi>{by === "device" && !whole ? deviceNames[r.key as Device] : r.name}</bdi>
        )}
      </td>
      {came ? (
        <td className="pl-4 text-right">
          {r.now.visited === 0 ? "–" : r.now.visited.toLocaleString(locale)}
          <Change now={r.now.visited} before={r.before.visited} />
        </td>
      ) : null}
      {did ? <CountCell n={r.now.joined} of={joinedOf(r.now)} /> : null}
      <CountCell n={r.now.bought} of={boughtOf(r.now)} />
      <td className="pl-4 text-right">
        {r.now.income === 0 ? "–" : moneyText(r.now.income, currency)}
        <Change now={r.now.income} before={r.before.income} />
        {r.others.map((o) => (
          <span key={o.currency} className="block whitespace-nowrap text-note">
            + {moneyText(o.income, o.currency)}
          </span>
        ))}
      </td>
      {came ? (
        <EachCell value={r.value} currency={currency} />
      ) : (
        <td className="pl-4 text-right">{moneyText(r.now.kept, currency)}</td>
      )}
      {journeys ? (
        <td className="pl-4 text-right">
          {/* A funnel that sells nothing gives people to others. */}
          {r.click === null || (by === "funnel" && r.now.orders === 0) ? "–" : moneyText(r.click, currency)}
        </td>
      ) : null}
      {costs ? (
        <>
          <td className="pl-4 text-right">
            {r.cost === null && codeOfSource(r.key) !== null ? (
              // Affiliates are paid by commissions, which are taken off already.
              "–"
            ) : r.cost === null ? (
              <TextLink href={`/studio/numbers/costs?source=${encodeURIComponent(r.key)}`}>Type it</TextLink>
            ) : (
              <>
                {moneyText(r.cost.cost, currency)}
                {r.cost.buyer === null ? null : (
                  <span className="block whitespace-nowrap text-note font-normal text-soft">
                    {moneyText(Math.round(r.cost.buyer), currency)} a buyer
                  </span>
                )}
              </>
            )}
          </td>
          <td className="pl-4 text-right">
            {r.cost === null ? (
              "–"
            ) : (
              <>
                {r.cost.back === null ? "–" : `${r.cost.back.toLocaleString(locale, { maximumFractionDigits: 2 })} ×`}
                <span className={`block whitespace-nowrap text-note font-semibold ${verdicts[r.cost.verdict].tone}`}>
                  {verdicts[r.cost.verdict].says}
                </span>
              </>
            )}
          </td>
        </>
      ) : null}
    </tr>
  )
}
