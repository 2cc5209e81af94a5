import { randomBytes } from "node:crypto"
import { Temporal } from "temporal-polyfill"
import { studio } from "@/app/door"
import { ibanShort } from "@/core/affiliate/iban"
import { nextPayDay } from "@/core/affiliate/payout"
import { moneyText } from "@/core/offer/money"
import { obstacleText } from "@/core/words/affiliate"
import { locale } from "@/core/words/locale"
import { previewPayout } from "@/server/affiliate/payout"
import { dueLines } from "@/server/affiliate/payout-view"
import { affiliateRules } from "@/server/affiliate/rules"
import { dayKey } from "@/server/offer/shown"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Link } from "@/ui/link"
import { startOf } from "../../query"
import { Lines } from "../lines"
import { MakePayout } from "./make-payout"

export const metadata = { title: "New payout" }

type Asked = { readonly until?: string; readonly of?: string }

/** How many are shown on one page; all of them are in the payout. */
const most = 200

export default async function NewPayoutPage({ searchParams }: { searchParams: Promise<Asked> }) {
  const s = await studio()
  const asked = await searchParams
  const zone = await schoolZone(s.db)
  const now = await s.clock.now()
  const today = dayKey(now, zone)
  const yesterday = Temporal.PlainDate.from(today).subtract({ days: 1 }).toString()
  const lastDay = startOf(asked.until, zone, 1) !== null && asked.until! <= yesterday ? asked.until! : yesterday
  const until = startOf(lastDay, zone, 1)!
  const rules = await affiliateRules(s.db)
  const p = await previewPayout(s, until)
  const of = Number(asked.of) || null
  const lines = of === null ? [] : await dueLines(s.db, { until }, of, 0)
  const here = (more: Record<string, string>) =>
    `/studio/affiliates/payouts/new?${new URLSearchParams({ until: lastDay, ...more })}`
  const row = (
    x: { affiliate: number; currency: string; name: string; amount: number; lines: number },
    right: string,
  ) => (
    <li key={`${x.affiliate}:${x.currency}`} className="border-t border-line py-1.5">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4 tabular-nums">
        <Link
          className="min-w-0 truncate font-semibold text-slate hover:underline"
          href={here(of === x.affiliate ? {} : { of: String(x.affiliate) })}
          aria-expanded={of === x.affiliate}
        >
          {x.name}
        </Link>
        <span className="flex flex-wrap gap-x-4">
          <span className="text-soft">{right}</span>
          <span className="w-20 text-right text-soft">
            {x.lines === 1 ? "1 line" : `${x.lines.toLocaleString(locale)} lines`}
          </span>
          <span className="w-28 text-right">{moneyText(x.amount, x.currency)}</span>
        </span>
      </div>
      {of === x.affiliate ? (
        <div className="mt-1 mb-2">
          <Lines lines={lines.filter((l) => l.currency === x.currency)} zone={zone} open />
        </div>
      ) : null}
    </li>
  )
  return (
    <>
      <p className="mt-3 text-[0.9rem]">
        <Link className="text-slate hover:underline" href="/studio/affiliates/payouts">
          ‹ Payouts
        </Link>
      </p>
      <div className="mt-1 flex flex-wrap items-end justify-between gap-4">
        <h1>
          New payout
          {p.totals.map((t) => (
            <span key={t.currency}> · {moneyText(t.amount, t.currency)}</span>
          ))}
        </h1>
        <form action="/studio/affiliates/payouts/new" className="flex items-end gap-2">
          <TextField
            label="Of what was due until the end of"
            type="date"
            name="until"
            defaultValue={lastDay}
            max={yesterday}
          />
          <Button type="submit">Show</Button>
        </form>
      </div>
      {rules.iban === "" ? (
        <p className="mt-3 rounded-md border border-amber bg-amber-wash p-3">
          Say first from which account you pay:{" "}
          <Link className="text-slate underline" href="/studio/affiliates/rules">
            Rules
          </Link>
          .
        </p>
      ) : null}
      {p.pay.length + p.not.length === 0 ? (
        <p className="mt-8 text-lg">Nothing is due until then.</p>
      ) : (
        <div className="mt-4 grid gap-8 lg:grid-cols-[minmax(0,1fr)_20rem]">
          <div className="space-y-8">
            <section aria-label="Who is paid">
              <h2>Who is paid</h2>
              {p.pay.length === 0 ? <p className="mt-1 text-soft">Nobody can be paid yet: see why below.</p> : null}
              <ul className="mt-1">{p.pay.slice(0, most).map((x) => row(x, ibanShort(x.iban)))}</ul>
              {p.pay.length > most ? (
                <p className="mt-2 text-soft">
                  and {(p.pay.length - most).toLocaleString(locale)} more, all in the payout.
                </p>
              ) : null}
            </section>
            {p.not.length ? (
              <section aria-label="Who isn't paid yet">
                <h2>Who isn’t paid yet, and why</h2>
                <ul className="mt-1">{p.not.slice(0, most).map((x) => row(x, obstacleText[x.why]))}</ul>
                {p.not.length > most ? (
                  <p className="mt-2 text-soft">and {(p.not.length - most).toLocaleString(locale)} more.</p>
                ) : null}
              </section>
            ) : null}
          </div>
          <MakePayout
            once={randomBytes(16).toString("base64url")}
            until={until}
            seen={p.seen}
            day={nextPayDay(rules.payDays, today)}
            today={today}
            ready={p.pay.length > 0 && rules.iban !== ""}
            totals={p.totals.map((t) => ({
              says: moneyText(t.amount, t.currency),
              people: t.people,
              lines: t.lines,
              currency: t.currency,
            }))}
          />
        </div>
      )}
    </>
  )
}
