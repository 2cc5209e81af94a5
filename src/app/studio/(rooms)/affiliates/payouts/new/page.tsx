import { randomBytes } from "node:crypto"
import { Temporal } from "temporal-polyfill"
import { studio } from "@/app/guard"
import { ibanShort } from "@/core/affiliate/iban"
import { nextPayDay } from "@/core/affiliate/payout"
import { obstacleText } from "@/core/affiliate/words"
import { moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { type PayoutPreview, previewPayout } from "@/server/affiliate/payout"
import { dueLines, paidPage } from "@/server/affiliate/payout-view"
import { affiliateRules } from "@/server/affiliate/rules"
import { dayKey } from "@/server/offer/shown"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Link, NameLink, TextLink } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { dayStart, pageOf } from "../../../asked"
import { Lines } from "../lines"
import { MakePayout } from "./make-payout"

export const metadata = { title: "New payout" }

type Asked = {
  readonly until?: string
  /** The page of who is paid, and of who isn't. */
  readonly page?: string
  readonly not?: string
  /** Whose lines stand open: affiliate and currency, and the page of them. */
  readonly of?: string
  readonly lines?: string
}

type DueTo = PayoutPreview["pay"][number] | PayoutPreview["not"][number]

const keyOf = (x: DueTo) => `${x.affiliate}.${x.currency}`
const shown = <T,>(all: readonly T[], page: number) => all.slice(page * paidPage, (page + 1) * paidPage)

export default async function NewPayoutPage({ searchParams }: { searchParams: Promise<Asked> }) {
  const s = await studio()
  const asked = await searchParams
  const zone = await schoolZone(s.db)
  const now = await s.clock.now()
  const today = dayKey(now, zone)
  const yesterday = Temporal.PlainDate.from(today).subtract({ days: 1 }).toString()
  const lastDay = dayStart(asked.until, zone, 1) !== null && asked.until! <= yesterday ? asked.until! : yesterday
  const until = dayStart(lastDay, zone, 1)!
  const rules = await affiliateRules(s.db)
  const p = await previewPayout(s, until)
  const [page, notPage, linesAt] = [pageOf(asked.page), pageOf(asked.not), pageOf(asked.lines)]
  const open = [...p.pay, ...p.not].find((x) => keyOf(x) === asked.of)
  const lines = open ? await dueLines(s.db, { until, currency: open.currency }, open.affiliate, linesAt) : []
  const here = (more: Record<string, string>) => {
    const now = { until: lastDay, page: String(page + 1), not: String(notPage + 1), ...more }
    return `/studio/affiliates/payouts/new?${new URLSearchParams(Object.entries(now).filter(([, v]) => v !== "1"))}`
  }
  const row = (x: DueTo, right: string) => (
    <li key={keyOf(x)} className="border-t border-line py-1.5">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4 tabular-nums">
        <Link
          className="min-w-0 truncate font-semibold text-slate hover:underline"
          href={here(x === open ? {} : { of: keyOf(x) })}
          aria-expanded={x === open}
        >
          <bdi>{x.name}</bdi>
        </Link>
        <span className="flex flex-wrap gap-x-4">
          <span className="text-soft">{right}</span>
          <span className="min-w-20 text-right text-soft">
            {x.lines === 1 ? "1 line" : `${x.lines.toLocaleString(locale)} lines`}
            {x.leftOut ? `, ${x.leftOut.toLocaleString(locale)} left out` : ""}
          </span>
          <span className="w-28 text-right">{moneyText(x.amount, x.currency)}</span>
        </span>
      </div>
      {x === open ? (
        <div className="mt-1 mb-2">
          <Lines
            lines={lines}
            total={x.lines + x.leftOut}
            page={linesAt}
            href={(n) => here({ of: keyOf(x), lines: String(n + 1) })}
            zone={zone}
            open
          />
        </div>
      ) : null}
    </li>
  )
  return (
    <>
      <p className="mt-3 text-note">
        <NameLink href="/studio/affiliates/payouts">‹ Payouts</NameLink>
      </p>
      <div className="mt-1 flex flex-wrap items-end justify-between gap-4">
        <h1>
          New payout
          {p.totals.map((t) => (
            <span key={t.currency}> · {moneyText(t.amount, t.currency)}</span>
          ))}
        </h1>
        <form action="/studio/affiliates/payouts/new" className="flex flex-wrap items-end gap-2">
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
          Say first from which account you pay: <TextLink href="/studio/affiliates/rules">Rules</TextLink>.
        </p>
      ) : null}
      {p.pay.length + p.not.length === 0 ? (
        <p className="mt-8 text-lg">Nothing is due until then.</p>
      ) : (
        <div className="mt-4 grid grid-cols-1 gap-8 lg:grid-cols-[minmax(0,1fr)_20rem]">
          <div className="space-y-8">
            <section aria-label="Who is paid">
              <h2>Who is paid</h2>
              {p.pay.length === 0 ? <p className="mt-1 text-soft">Nobody can be paid yet: see why below.</p> : null}
              <ul className="mt-1">{shown(p.pay, page).map((x) => row(x, ibanShort(x.iban)))}</ul>
              <Pager
                page={page}
                size={paidPage}
                shown={shown(p.pay, page).length}
                total={p.pay.length}
                href={(n) => here({ page: String(n + 1) })}
              />
            </section>
            {p.not.length ? (
              <section aria-label="Who isn't paid yet">
                <h2>Who isn’t paid yet, and why</h2>
                <ul className="mt-1">{shown(p.not, notPage).map((x) => row(x, obstacleText[x.why]))}</ul>
                <Pager
                  page={notPage}
                  size={paidPage}
                  shown={shown(p.not, notPage).length}
                  total={p.not.length}
                  href={(n) => here({ not: String(n + 1) })}
                />
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
