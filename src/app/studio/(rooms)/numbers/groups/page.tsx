import { studio } from "@/app/guard"
import { shareAt } from "@/core/numbers/survival"
import { moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { groups, timeToBuy } from "@/server/numbers/groups"
import { groupAges } from "@/server/numbers/roll-sold"
import { sellingRules } from "@/server/offer/offer"
import { Table } from "@/ui/table"
import { TitleWithCsv } from "../asked-fields"
import { Bar, share } from "../words"
import { BuyingChart } from "./buying-chart"

export const metadata = { title: "Groups" }

/** Days after joining at which the share of buyers is said. */
const looks = [1, 3, 7, 14, 30, 60, 90] as const

/** Those who joined in the same week: what they were worth later, and how long it takes to buy. */
export default async function GroupsPage() {
  const s = await studio()
  const now = await s.clock.now()
  const { currency } = await sellingRules(s.db)
  const [all, buying] = [await groups(s.db, now, currency), await timeToBuy(s.db, now)]
  const most = Math.max(1, ...all.map((g) => g.now))
  const last = buying.steps.at(-1)?.at ?? 0
  return (
    <>
      <TitleWithCsv title="Groups" href="/studio/numbers/groups/groups.csv" />
      {buying.steps.length === 0 ? (
        <p className="mt-6 text-lg">Nobody who joined in the last half year has bought yet.</p>
      ) : (
        <section aria-label="From joining to buying" className="mt-4">
          <p className="max-w-3xl">
            Of {buying.people.toLocaleString(locale)} who joined in the last half year{" "}
            {buying.bought.toLocaleString(locale)} have bought so far. Since many have been here for a short time only,
            more will: {share(1 - shareAt(buying.steps, 30))} buy within 30 days of joining.
          </p>
          <div className="mt-3 grid grid-cols-1 gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_18rem]">
            <BuyingChart steps={buying.steps} />
            <Table
              columns={[{ says: "Days after joining" }, { says: "Have bought", right: true }]}
              className="tabular-nums"
            >
              {looks
                .filter((d) => d <= Math.max(30, last))
                .map((d) => {
                  const at = buying.steps.findLast((x) => x.at <= d)
                  return (
                    <tr key={d} className="border-b border-line">
                      <td className="py-1.5">{d}</td>
                      <td className="text-right">
                        {share(1 - (at?.share ?? 1))}{" "}
                        <span className="text-fine text-soft">
                          ({share(1 - (at?.high ?? 1))}–{share(1 - (at?.low ?? 1))})
                        </span>
                      </td>
                    </tr>
                  )
                })}
            </Table>
          </div>
        </section>
      )}
      <h2 className="mt-8">What those who joined in a week were worth</h2>
      <p className="mt-1 max-w-3xl text-soft">
        Kept of each who joined: income less tax, refunds, fees and commissions. A dash: not all of the week have been
        here for so long. Weeks begin on Monday, of UTC.
      </p>
      <Table
        className="mt-3 min-w-[44rem] tabular-nums"
        columns={[
          { says: "Week" },
          { says: "Joined", right: true, wide: "w-24" },
          ...groupAges.map((a) => ({ says: `After ${a} days`, right: true, wide: "w-32" })),
          { says: "By now", right: true, wide: "w-48" },
        ]}
      >
        {all.map((g) => (
          <tr key={g.monday} className="border-b border-line">
            <td className="py-1.5">{weekName(g.monday)}</td>
            <td className="text-right">{g.joined.toLocaleString(locale)}</td>
            {groupAges.map((a) => (
              <td key={a} className="text-right">
                {g.worth[a] === null ? "–" : moneyText(Math.round(g.worth[a]), currency)}
              </td>
            ))}
            <td className="text-right">
              {moneyText(Math.round(g.now), currency)}
              <Bar part={g.now / most} />
            </td>
          </tr>
        ))}
      </Table>
    </>
  )
}

/** "Week 32, from 3 August". The number by ISO 8601: the week of its Thursday. */
function weekName(monday: string): string {
  const at = new Date(`${monday}T00:00:00Z`)
  const thursday = new Date(at.getTime() + 3 * 86_400_000)
  const begins = Date.UTC(thursday.getUTCFullYear(), 0, 1)
  const week = Math.floor((thursday.getTime() - begins) / (7 * 86_400_000)) + 1
  return `Week ${week}, from ${new Intl.DateTimeFormat(locale, { day: "numeric", month: "long", timeZone: "UTC" }).format(at)}`
}
