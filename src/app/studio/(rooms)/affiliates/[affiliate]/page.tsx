import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { ibanShort } from "@/core/affiliate/iban"
import { affiliateStates, obstacleText, termsText } from "@/core/affiliate/words"
import { moneyText } from "@/core/offer/money"
import { affiliateById, affiliateNames, partsOfAffiliate } from "@/server/affiliate/affiliate"
import { bankOf } from "@/server/affiliate/bank"
import { bonusesFor } from "@/server/affiliate/bonus"
import { obstaclesOf } from "@/server/affiliate/payout"
import { brought, salesOf } from "@/server/affiliate/report"
import { affiliateStanding } from "@/server/affiliate/standing"
import { statementsOf } from "@/server/affiliate/statement"
import { mediaLink } from "@/server/media/store"
import { programmesOf } from "@/server/programme/programme"
import { schoolZone } from "@/server/school-view"
import { Link, NameLink, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { idOf } from "../../asked"
import { day } from "../../words"
import { Approve, WantedName } from "../add-affiliate"
import { BroughtCells, broughtColumns } from "../words"
import { ChangeAffiliate, EndAffiliate, JudgeBonus, OwnRate, WriteOff } from "./change"

export const metadata = { title: "Affiliate" }

export default async function AffiliatePage({ params }: { params: Promise<{ affiliate: string }> }) {
  const s = await studio()
  const id = idOf((await params).affiliate)
  const a = await affiliateById(s.db, id)
  if (!a) notFound()
  const zone = await schoolZone(s.db)
  const now = await s.clock.now()
  const parts = await partsOfAffiliate(s.db, id)
  const programmes = await programmesOf(
    s.db,
    parts.map((p) => p.offer),
  )
  const b = (await brought(s.db, "affiliate", { from: null, to: null }, id)).get(String(id))
  const links = await brought(s.db, "link", { from: null, to: null }, id)
  const sales = await salesOf(s.db, id)
  const stands = await affiliateStanding(s.db, id, now)
  const obstacles = await obstaclesOf(s.db, id, now)
  const bank = await bankOf(s.db, id)
  const paid = await statementsOf(s.db, id)
  const bonuses = (await bonusesFor(s.db, id)).filter((x) => x.affiliate === id)
  const brings = b ?? { clicks: 0, joins: 0, sales: 0, money: [] }
  const broughtBy = a.broughtBy === null ? null : (await affiliateNames(s.db, [a.broughtBy]))(a.broughtBy)
  return (
    <>
      <p className="mt-3 text-note">
        <NameLink href="/studio/affiliates">‹ Affiliates</NameLink>
      </p>
      <div className="mt-1 flex flex-wrap items-start justify-between gap-4">
        <div className="min-w-0">
          <h1 className="[overflow-wrap:anywhere]">{a.name || "Erased"}</h1>
          <p className="text-soft">
            {affiliateStates[a.state]}
            {a.since ? ` since ${day(a.since, zone)}` : ` on ${day(a.askedAt, zone)}`} · code <code>{a.code}</code>
            {broughtBy ? ` · brought by ${broughtBy}` : ""}
            {a.person ? (
              <>
                {" · "}
                <TextLink href={`/studio/people/${a.person}`}>As a person</TextLink>
              </>
            ) : null}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {a.state === "asked" ||
          a.state === "invited" ||
          (a.state === "ended" && a.person) ||
          (a.state === "active" && parts.some((p) => p.waits)) ? (
            <Approve affiliate={id} name={a.name} />
          ) : null}
          {a.person ? <ChangeAffiliate affiliate={id} name={a.name} shown={a.shown} code={a.code} /> : null}
          {a.state === "active" ? <EndAffiliate affiliate={id} name={a.name} /> : null}
        </div>
      </div>

      {a.wantedName ? <WantedName affiliate={id} wanted={a.wantedName} /> : null}
      <section aria-label="Money" className="mt-5">
        <h2>What they are owed</h2>
        {stands.length === 0 ? <p className="mt-1 text-soft">Nothing was earned yet.</p> : null}
        {stands.length ? (
          <Table
            className="mt-1 max-w-3xl tabular-nums"
            columns={[
              { says: "Currency" },
              { says: "Pending", right: true },
              { says: "Due", right: true },
              { says: "In a payout", right: true },
              { says: "Paid", right: true },
              { says: "Can be paid", wide: "w-64", right: true },
            ]}
          >
            {stands.map((x) => {
              const why = obstacles.find((o) => o.currency === x.currency)?.why
              return (
                <tr key={x.currency} className="border-b border-line">
                  <td className="py-1.5">{x.currency}</td>
                  {[x.pending, x.due, x.inPayout, x.paid].map((n, i) => (
                    <td key={["pending", "due", "in", "paid"][i]} className="text-right">
                      {n === 0 ? "–" : moneyText(n, x.currency)}
                    </td>
                  ))}
                  <td className={`text-right ${why ? "text-amber-text" : ""}`}>
                    {x.due === 0 ? "–" : why ? obstacleText[why] : "yes"}
                  </td>
                </tr>
              )
            })}
          </Table>
        ) : null}
        <p className="mt-2 text-body text-soft">
          {bank?.iban
            ? `Paid to ${bank.holder}, ${ibanShort(bank.iban)}, confirmed${bank.at ? ` on ${day(bank.at, zone)}` : ""}.`
            : "No bank details yet: they type them on their own page."}
        </p>
        {a.state === "ended" && stands.some((x) => x.pending + x.due !== 0) ? <WriteOff affiliate={id} /> : null}
      </section>

      <section aria-label="Programmes" className="mt-6">
        <h2>Programmes</h2>
        {parts.length === 0 ? <p className="mt-1 text-soft">They take part in none.</p> : null}
        <ul className="mt-1">
          {parts.map((p) => {
            const of = programmes.get(p.offer)
            if (!of) return null
            const agreed = p.agreedVersion >= of.conditionsVersion
            return (
              <li key={p.offer} className="border-t border-line py-2">
                <div className="flex flex-wrap items-start justify-between gap-x-4">
                  <Link
                    className="font-semibold text-slate hover:underline"
                    href={`/studio/affiliates/programmes/${p.offer}`}
                  >
                    {of.name}
                  </Link>
                  <OwnRate affiliate={id} offer={p.offer} rate={p.rate} usual={of.terms.rate} currency={of.currency} />
                </div>
                <p>{termsText(of.terms, p.rate, of.currency)}</p>
                {p.waits ? (
                  <p className="font-semibold text-amber-text">They asked to join: nothing counts until you approve.</p>
                ) : null}
                <p className={`text-body ${agreed ? "text-soft" : "text-amber-text"}`}>
                  {of.conditionsVersion === 0
                    ? "There are no conditions."
                    : p.agreedVersion === 0
                      ? "They have not agreed to the conditions yet: nothing counts for them here."
                      : agreed
                        ? `They agreed to version ${p.agreedVersion} of the conditions${p.agreedAt ? ` on ${day(p.agreedAt, zone)}` : ""}.`
                        : `They agreed to version ${p.agreedVersion} of the conditions; version ${of.conditionsVersion} holds now. They are paid once they have agreed to it.`}
                </p>
              </li>
            )
          })}
        </ul>
      </section>

      <section aria-label="What they bring" className="mt-6">
        <h2>What they bring</h2>
        <Table
          className="mt-1 min-w-[50rem] table-fixed tabular-nums"
          columns={[{ says: "Link" }, ...broughtColumns()]}
        >
          <tr className="border-b border-line font-semibold">
            <td className="py-1.5">All together</td>
            <BroughtCells b={brings} />
          </tr>
          {[...links]
            .sort(([, x], [, y]) => y.sales - x.sales || y.clicks - x.clicks)
            .slice(0, 30)
            .map(([key, l]) => (
              <tr key={key} className="border-b border-line">
                <td className="truncate py-1.5">{key.slice(key.indexOf(":") + 1) || "without a name"}</td>
                <BroughtCells b={l} />
              </tr>
            ))}
        </Table>
      </section>

      {bonuses.length ? (
        <section aria-label="Bonuses" className="mt-6">
          <h2>Bonuses of their own</h2>
          <ul className="mt-1">
            {bonuses.map((x) => (
              <li
                key={x.id}
                className="flex flex-wrap items-center justify-between gap-x-4 border-t border-line py-1.5"
              >
                <a
                  className="text-slate underline [overflow-wrap:anywhere]"
                  href={mediaLink(s.config, x.stored ?? "", Date.now())}
                >
                  {x.name}
                </a>
                <JudgeBonus bonus={x.id} state={x.state} name={x.name} />
              </li>
            ))}
          </ul>
        </section>
      ) : null}

      <section aria-label="Sales" className="mt-6">
        <h2>Sales</h2>
        {sales.length === 0 ? (
          <p className="mt-1 text-soft">Nobody has bought by a recommendation of theirs yet.</p>
        ) : (
          <Table
            className="mt-1 min-w-[46rem] tabular-nums"
            columns={[
              { says: "Date", wide: "w-32" },
              { says: "Order", wide: "w-24" },
              { says: "Bought" },
              { says: "Link", wide: "w-36" },
              { says: "First day", wide: "w-28", right: true },
              { says: "Commission", wide: "w-28", right: true },
            ]}
          >
            {sales.map((x) => (
              <tr key={x.order} className="border-b border-line">
                <td className="py-1.5">{day(x.at, zone)}</td>
                <td>
                  <NameLink href={`/studio/ledger/orders/${x.order}#why`}>{x.order}</NameLink>
                </td>
                <td className="max-w-80 truncate">
                  {x.what}
                  {x.state === "refunded" ? <span className="text-soft"> · refunded</span> : null}
                  {x.moved ? <span className="text-soft"> · given by hand</span> : null}
                </td>
                <td className="truncate">{x.sub || "–"}</td>
                <td className="text-right">{moneyText(x.gross, x.currency)}</td>
                <td className="text-right">{moneyText(x.commission, x.currency)}</td>
              </tr>
            ))}
          </Table>
        )}
      </section>

      {paid.length ? (
        <section aria-label="Paid" className="mt-6">
          <h2>Paid</h2>
          <ul className="mt-1">
            {paid.map((x) => (
              <li key={x.id} className="flex gap-4 border-t border-line py-1.5 tabular-nums">
                <span className="w-32">{day(x.paidAt, zone)}</span>
                <span className="w-28 text-right">{moneyText(x.gross, x.currency)}</span>
                <a className="text-slate underline" href={`/studio/affiliates/statements/${x.id}`} download>
                  {x.number}
                </a>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </>
  )
}
