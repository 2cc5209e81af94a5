import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { ibanShort } from "@/core/affiliate/iban"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { locale } from "@/core/words/locale"
import { dueLines, paidPage, paidTo, payoutById, writtenTo } from "@/server/affiliate/payout-view"
import { schoolZone } from "@/server/school-view"
import { Button } from "@/ui/button"
import { Link, NameLink } from "@/ui/link"
import { Pager } from "@/ui/pager"
import { idOf, pageOf } from "../../../asked"
import { day, studioMoment } from "../../../words"
import { Lines } from "../lines"
import { PayoutActs, Refreshing } from "./payout-acts"

export const metadata = { title: "Payout" }

export default async function PayoutPage({
  params,
  searchParams,
}: {
  params: Promise<{ payout: string }>
  searchParams: Promise<{ of?: string; page?: string; lines?: string }>
}) {
  const s = await studio()
  const id = idOf((await params).payout)
  const asked = await searchParams
  const p = await payoutById(s.db, id)
  if (!p) notFound()
  const zone = await schoolZone(s.db)
  const page = pageOf(asked.page)
  const linesAt = pageOf(asked.lines)
  const to = await paidTo(s.db, id, page)
  // The first one stands open, so that it is seen that there are lines.
  const of = asked.of === undefined ? (to[0]?.affiliate ?? null) : Number(asked.of) || null
  const lines = of === null ? [] : await dueLines(s.db, { payout: id }, of, linesAt)
  const written = p.state === "paid" ? await writtenTo(s.db, id) : 0
  const rewritten = to.filter((t) => t.rewritten !== null)
  const underWay = p.state !== "undone" && (p.fileAt === null || (p.state === "paid" && written < p.people))
  const here = (more: Record<string, string>) =>
    `/studio/affiliates/payouts/${id}?${new URLSearchParams({ ...(page ? { page: String(page + 1) } : {}), ...more })}`
  return (
    <>
      <p className="mt-3 text-note">
        <NameLink href="/studio/affiliates/payouts">‹ Payouts</NameLink>
      </p>
      <div className="mt-1 flex flex-wrap items-start justify-between gap-4">
        <div>
          <h1>
            Payout P{id}: {moneyText(p.gross, p.currency)}
          </h1>
          <p className="text-soft">
            {p.people === 1 ? "1 affiliate" : `${p.people.toLocaleString(locale)} affiliates`},{" "}
            {p.lines === 1 ? "1 line" : `${p.lines.toLocaleString(locale)} lines`}, of what was due until{" "}
            {day(p.until.getTime() - 1, zone)} · made on {studioMoment(p.madeAt, zone)} ·{" "}
            {p.state === "paid"
              ? `marked as paid on ${studioMoment(p.paidAt!, zone)}`
              : p.state === "undone"
                ? `undone on ${studioMoment(p.undoneAt!, zone)}`
                : `to be paid on ${dayText(p.day)}`}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {p.state !== "undone" && p.fileAt ? (
            <Button asChild>
              <a href={`/studio/affiliates/payouts/${id}/bank.xml`} download>
                File for the bank
              </a>
            </Button>
          ) : null}
          <Button asChild>
            <a href={`/studio/affiliates/payouts/${id}/payout.csv`} download>
              As CSV
            </a>
          </Button>
          {p.state === "made" ? <PayoutActs payout={id} says={moneyText(p.gross, p.currency)} /> : null}
        </div>
      </div>
      {underWay ? (
        <p role="status" className="mt-3 rounded-md bg-reed-wash px-3 py-2">
          {p.fileAt === null
            ? `The file for the bank is being written: ${p.fileDone.toLocaleString(locale)} of ${p.people.toLocaleString(locale)}.`
            : `Statements are going out: ${written.toLocaleString(locale)} of ${p.people.toLocaleString(locale)}.`}{" "}
          You can leave this page.
          <Refreshing />
        </p>
      ) : null}
      {rewritten.length ? (
        <p className="mt-3 max-w-3xl text-body">
          Banks take Latin letters only. In the file{" "}
          {rewritten
            .slice(0, 5)
            .map((t) => `“${t.holder}” is written “${t.rewritten}”`)
            .join(", ")}
          {rewritten.length > 5 ? `, and ${rewritten.length - 5} more` : ""}.
        </p>
      ) : null}
      <ul className="mt-4" aria-label="Who is paid">
        {to.map((t) => (
          <li key={t.id} className="border-t border-line py-1.5">
            <div className="flex flex-wrap items-baseline justify-between gap-x-4 tabular-nums">
              <Link
                className="min-w-0 truncate font-semibold text-slate hover:underline"
                href={here({ of: of === t.affiliate ? "0" : String(t.affiliate) })}
                aria-expanded={of === t.affiliate}
              >
                <bdi>{t.name}</bdi>
              </Link>
              <span className="flex flex-wrap gap-x-4">
                <span className="w-40 text-right text-soft">{ibanShort(t.iban)}</span>
                <span className="w-16 text-right text-soft">
                  {t.lines === 1 ? "1 line" : `${t.lines.toLocaleString(locale)} lines`}
                </span>
                {t.note && p.state === "paid" ? (
                  <a className="text-slate underline" href={`/studio/affiliates/statements/${t.id}`} download>
                    {t.note}
                  </a>
                ) : null}
                <span className="w-28 text-right">{moneyText(t.gross, p.currency)}</span>
              </span>
            </div>
            {of === t.affiliate ? (
              <div className="mt-1 mb-2">
                {t.tax ? (
                  <p className="text-body text-soft">
                    {moneyText(t.net, p.currency)} and {moneyText(t.tax, p.currency)} of tax.
                  </p>
                ) : null}
                <Lines
                  lines={lines}
                  total={t.lines}
                  page={linesAt}
                  href={(n) => here({ of: String(t.affiliate), lines: String(n + 1) })}
                  zone={zone}
                  open={false}
                />
              </div>
            ) : null}
          </li>
        ))}
      </ul>
      <Pager
        page={page}
        size={paidPage}
        shown={to.length}
        total={p.people}
        href={(n) => here({ page: String(n + 1) })}
      />
    </>
  )
}
