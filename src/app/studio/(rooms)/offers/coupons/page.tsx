import { studio } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import { affiliatesToChoose } from "@/server/affiliate/affiliate"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { couponReport } from "@/server/offer/coupon"
import { loadOffers, sellingRules } from "@/server/offer/offer"
import { NameLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { SetsOff } from "../../sets-off"
import { day } from "../../words"
import { ChangeCoupon, EndCoupon, NewCoupon } from "./new-coupon"

export const metadata = { title: "Coupons" }

export default async function CouponsPage({ searchParams }: { searchParams: Promise<{ coupon?: string }> }) {
  const s = await studio()
  const coupons = await couponReport(s.db)
  const asked = Number((await searchParams).coupon)
  const chosen = coupons.find((c) => c.id === asked)
  const offers = await loadOffers(s.db)
  const rules = await sellingRules(s.db)
  const now = await s.clock.now()
  const around = {
    currency: rules.currency,
    zone: rules.zone,
    affiliates: await affiliatesToChoose(s.db),
    offers: [...offers.values()].map((o) => ({ id: o.id, name: o.publicName })),
  }
  const name = (id: number) => offers.get(id)?.publicName ?? "an offer that is gone"
  return (
    <>
      <h1 className="mt-4">Coupons</h1>
      <p className="mt-1 text-soft">
        Typed at a checkout, or brought along by a link: put <code>?coupon=</code> and the code behind a page's address.
      </p>
      <NewCoupon {...around} open={coupons.length === 0} />
      {coupons.length === 0 ? (
        <p className="mt-6 text-lg">
          A coupon says where it was given out, so that you learn which place sells. There is none yet.
        </p>
      ) : (
        <Table
          className="mt-5"
          columns={[
            { says: "Given out" },
            { says: "Code" },
            { says: "Discount" },
            { says: "Valid for" },
            { says: "Orders", right: true },
            { says: "Paid on the first day", right: true },
            { says: "Until", wide: "w-48", right: true },
          ]}
        >
          {coupons.map((c) => (
            <tr key={c.id} className="border-b border-line">
              <td className="max-w-72 truncate py-2 font-semibold">
                {c.givenOut}
                {c.affiliate ? <span className="font-normal text-soft"> · counts for {c.affiliate}</span> : null}
              </td>
              <td className="tabular-nums">
                <NameLink
                  href={`/studio/offers/coupons?coupon=${c.id}`}
                  aria-current={c === chosen ? "true" : undefined}
                >
                  {c.code}
                </NameLink>
              </td>
              <td>
                {c.discount.kind === "percent"
                  ? `${c.discount.value / 100} %`
                  : moneyText(c.discount.value, c.currency ?? rules.currency)}
                <span className="text-soft"> {c.discount.on === "all" ? "each time" : "the first time"}</span>
              </td>
              <td className="max-w-56 truncate text-soft">
                {c.offers === null ? "Everything" : c.offers.map(name).join(", ")}
              </td>
              <td className="text-right">
                {c.sold.toLocaleString(locale)}
                {c.usesInAll === null ? "" : ` of ${c.usesInAll.toLocaleString(locale)}`}
              </td>
              <td className="text-right">{c.money.map((m) => moneyText(m.gross, m.currency)).join(", ") || "–"}</td>
              <td className="text-right">
                {c.until !== null && c.until <= now ? (
                  <span className="text-soft">Ended {day(c.until - 1, rules.zone)}</span>
                ) : (
                  <span className="flex flex-wrap justify-end gap-x-3">
                    {c.until === null ? "" : day(c.until - 1, rules.zone)}
                    <ChangeCoupon {...around} coupon={c} />
                    <EndCoupon coupon={c.id} code={c.code} />
                  </span>
                )}
              </td>
            </tr>
          ))}
        </Table>
      )}
      {chosen ? (
        <SetsOff
          of={chosen.id}
          name={chosen.code}
          title={`What ${chosen.code} sets off`}
          on={await effectsAbout(s.db, "coupon", chosen.id)}
          choices={await effectChoices(s.db)}
        />
      ) : null}
    </>
  )
}
