import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { affiliateHere, context } from "@/app/guard"
import { nextPayDay } from "@/core/affiliate/payout"
import { obstacleText } from "@/core/affiliate/words"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { locale } from "@/core/words/locale"
import { obstaclesOf } from "@/server/affiliate/payout"
import { earnedDays, partsFor, runningNow } from "@/server/affiliate/portal"
import { brought, salesOf } from "@/server/affiliate/report"
import { affiliateRules } from "@/server/affiliate/rules"
import { affiliateStanding } from "@/server/affiliate/standing"
import { dayKey } from "@/server/offer/shown"
import { schoolZone } from "@/server/school-view"
import { Link, TextLink } from "@/ui/link"
import { DaysChart } from "./days-chart"
import { Stat } from "./stat"

export const metadata: Metadata = { title: "Affiliate page" }

export default async function Overview() {
  const a = await affiliateHere()
  const { db, clock } = context()
  const now = await clock.now()
  const parts = await partsFor(db, a.id, now)
  if (a.state === "invited" || (a.state === "active" && !parts.some((p) => p.agreed))) redirect("/affiliate/programmes")
  const zone = await schoolZone(db)
  const rules = await affiliateRules(db)
  const stands = await affiliateStanding(db, a.id, now)
  const obstacles = await obstaclesOf(db, a.id, now)
  const days = await earnedDays(db, a.id, now)
  const links = await brought(db, "link", { from: now - 30 * 86_400_000, to: null }, a.id)
  const sales = await salesOf(db, a.id, 10)
  const running = await runningNow(db, now)
  const when = (at: Date) =>
    new Intl.DateTimeFormat(locale, { day: "numeric", month: "long", timeZone: zone }).format(at)
  const toAgree = a.state === "active" ? parts.filter((p) => !p.agreed) : []
  return (
    <>
      <h1>Hello {a.name.split(" ")[0]}</h1>
      {toAgree.length ? (
        <p role="alert" className="mt-3 rounded-md border border-amber bg-amber-wash p-3 text-[#14262d]">
          The conditions of “{toAgree[0]!.programme.name}” have changed. You are paid again once you have{" "}
          <Link className="underline" href="/affiliate/programmes">
            read them and agreed
          </Link>
          .
        </p>
      ) : null}
      <section aria-label="Money" className="mt-4">
        {stands.length === 0 ? (
          <p className="text-lg">Nothing earned yet. Your first link is one press away.</p>
        ) : (
          stands.map((x) => (
            <div key={x.currency} className="grid grid-cols-3 gap-3 border-b border-line pb-3">
              <Stat says="Pending" value={moneyText(x.pending, x.currency)} />
              <Stat says="Due" value={moneyText(x.due + x.inPayout, x.currency)} />
              <Stat says="Paid" value={moneyText(x.paid, x.currency)} />
            </div>
          ))
        )}
        <p className="mt-2 text-body text-soft">
          Commission is due {rules.dueDays} days after a payment. The next payout is on{" "}
          {dayText(nextPayDay(rules.payDays, dayKey(now, zone)))}.
        </p>
        {obstacles.map((o) =>
          o.why && o.why !== "owes" ? (
            <p key={o.currency} className="mt-1 font-semibold">
              {moneyText(stands.find((x) => x.currency === o.currency)?.due ?? 0, o.currency)} waits:{" "}
              {obstacleText[o.why]}
              {o.why === "under-least" ? ` (${moneyText(rules.least, o.currency)})` : ""}.{" "}
              {o.why === "no-bank" ? <TextLink href="/affiliate/account">Type your bank details</TextLink> : null}
            </p>
          ) : null,
        )}
      </section>

      <section aria-label="The last thirty days" className="mt-8">
        <h2>The last thirty days</h2>
        <DaysChart days={days} />
        <table className="mt-3 w-full text-left tabular-nums">
          <thead className="text-label text-soft">
            <tr className="border-b border-line">
              <th scope="col" className="py-1.5 font-semibold">
                Link
              </th>
              {["Clicks", "Joined", "Sales"].map((x) => (
                <th key={x} scope="col" className="w-16 py-1.5 text-right font-semibold">
                  {x}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {[...links]
              .sort(([, x], [, y]) => y.sales - x.sales || y.clicks - x.clicks)
              .slice(0, 12)
              .map(([key, l]) => (
                <tr key={key} className="border-b border-line">
                  <td className="py-1.5 [overflow-wrap:anywhere]">
                    {key.slice(key.indexOf(":") + 1) || "without a name"}
                  </td>
                  {[l.clicks, l.joins, l.sales].map((n, i) => (
                    <td key={["clicks", "joins", "sales"][i]} className="text-right">
                      {n ? n.toLocaleString(locale) : "–"}
                    </td>
                  ))}
                </tr>
              ))}
          </tbody>
        </table>
        {links.size === 0 ? (
          <p className="mt-2">
            Nobody has followed your link in this time. <TextLink href="/affiliate/links">Make a link</TextLink> for the
            next place where you write.
          </p>
        ) : null}
      </section>

      {running.length ? (
        <section aria-label="Running now" className="mt-8">
          <h2>Running now</h2>
          <ul className="mt-1">
            {running.map((r) => (
              <li key={r.says} className="border-t border-line py-1.5">
                {r.at ? (
                  <>
                    The webinar “{r.says}” is on <strong>{when(r.at)}</strong>
                  </>
                ) : (
                  <>
                    “{r.says}” is on sale{r.until ? ` until ${when(r.until)}` : ""}
                  </>
                )}
              </li>
            ))}
          </ul>
        </section>
      ) : null}

      {sales.length ? (
        <section aria-label="Latest sales" className="mt-8">
          <h2>Latest sales</h2>
          <ul className="mt-1">
            {sales.map((x) => (
              <li
                key={x.order}
                className="flex flex-wrap justify-between gap-x-4 border-t border-line py-1.5 tabular-nums"
              >
                <span>
                  {when(x.at)}
                  <span className="text-soft">
                    {" "}
                    · {x.what}
                    {x.sub ? ` · ${x.sub}` : ""}
                    {x.state === "refunded" ? " · refunded" : ""}
                  </span>
                </span>
                <span>{moneyText(x.commission, x.currency)}</span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </>
  )
}
