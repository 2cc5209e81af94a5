import { notFound, redirect } from "next/navigation"
import { studio } from "@/app/guard"
import { type Account, accounts } from "@/core/ledger/journal"
import { orderStateWords } from "@/core/ledger/order"
import { mailKinds } from "@/core/mail/kind/list"
import { moneyText } from "@/core/offer/money"
import { sourceText } from "@/core/words/source"
import { explainSale } from "@/server/affiliate/explain"
import { orderStory } from "@/server/ledger/orders"
import { schoolZone } from "@/server/school-view"
import { NameLink, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { idOf } from "../../../asked"
import { studioMoment } from "../../../words"
import { GiveBack } from "./give-back"
import { MarkPosted } from "./mark-posted"
import { WhyCounted } from "./why-counted"

export const metadata = { title: "Order" }

const chargeWords = {
  sending: "asking the card processor",
  confirming: "waiting for the buyer's bank",
  succeeded: "charged",
  refused: "refused",
  abandoned: "given up",
} as const

export default async function OrderPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const id = idOf((await params).id)
  const story = await orderStory(s.db, id)
  const first = story?.orders[0]
  if (!story || !first) notFound()
  if (first.id !== id) redirect(`/studio/ledger/orders/${first.id}`)
  const zone = await schoolZone(s.db)
  const sale = await explainSale(s.db, first.id)
  const money = (n: number) => moneyText(n, first.currency)
  const charged = story.charges.filter((c) => c.state === "succeeded")
  const came = charged.reduce((sum, c) => sum + c.gross, 0)
  const back = charged.reduce((sum, c) => sum + c.refunded, 0)
  return (
    <>
      <p className="mt-3 text-note">
        <NameLink href="/studio/ledger">‹ Orders</NameLink>
      </p>
      <div className="mt-1 flex items-start justify-between gap-4">
        <div className="min-w-0">
          <h1>
            Order {first.id}: {money(came - back)}
          </h1>
          <p className="text-soft">
            {first.person_id ? (
              <TextLink href={`/studio/people/${first.person_id}`}>
                <bdi>{first.name || first.email}</bdi>
              </TextLink>
            ) : (
              first.name || first.email
            )}
            , {first.email} · placed on {studioMoment(first.made_at, zone)} · came from{" "}
            {sale?.name ? `${sale.name}, an affiliate` : sourceText(first.source)}
            {first.coupon ? ` · coupon ${first.coupon}` : ""}
            {first.card ? ` · card ${first.card}` : ""}
          </p>
        </div>
        {charged.some((c) => c.gross > c.refunded) ? (
          <GiveBack
            story={first.id}
            currency={first.currency}
            orders={story.orders
              .map((o) => ({
                id: o.id,
                bought: o.bought,
                charges: charged
                  .filter((c) => c.order_id === o.id && c.gross > c.refunded)
                  .map((c) => ({
                    id: c.id,
                    says: `${c.plan ? `${c.plan}, charge ${c.n + 1}` : "the first charge"}, ${studioMoment(c.at, zone)}`,
                    left: c.gross - c.refunded,
                  })),
              }))
              .filter((o) => o.charges.length)}
          />
        ) : null}
      </div>

      <div className="mt-5 grid grid-cols-1 gap-8 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="space-y-6">
          <section aria-label="What was bought">
            <h2>What was bought</h2>
            {story.orders.map((o) => (
              <div key={o.id} className="mt-2 border-t border-line pt-2">
                <p className="flex justify-between gap-4">
                  <span>
                    {o.first_id ? `Then, on “${o.step ?? "an upsell"}”` : `On “${o.step ?? "the checkout"}”`}
                    <span className="text-soft"> · order {o.id}</span>
                  </span>
                  <span className={o.state === "refused" ? "text-dusk" : "text-soft"}>
                    {orderStateWords(o.state, o.refunded)}
                  </span>
                </p>
                <ul>
                  {o.lines.map((l) => (
                    <li key={l.id} className="mt-1 flex justify-between gap-4">
                      <span className="min-w-0">
                        <strong className="[overflow-wrap:anywhere]">{l.name}</strong>
                        {l.role === "bump" ? <span className="text-soft"> · order bump</span> : null}
                        {l.says === o.sentence ? null : <span className="block text-body text-soft">{l.says}</span>}
                        {l.post && o.state === "paid" ? (
                          <span className="block text-body">
                            {l.posted_at ? (
                              `${l.post} was sent on ${studioMoment(l.posted_at, zone)}.`
                            ) : (
                              <>
                                {l.post}, to {first.postal || "no address"}: <MarkPosted line={l.id} />
                              </>
                            )}
                          </span>
                        ) : null}
                      </span>
                      <span className="tabular-nums">{money(l.gross)}</span>
                    </li>
                  ))}
                </ul>
                <p className="mt-1 text-body">They read: “{o.sentence}”</p>
              </div>
            ))}
          </section>
          <WhyCounted sale={sale} order={first.id} paid={first.state === "paid"} zone={zone} />
          <section aria-label="Charges">
            <h2>Charges</h2>
            {story.charges.length === 0 ? <p className="mt-1 text-soft">Nothing was charged.</p> : null}
            {story.charges.length ? (
              <Table
                className="mt-1 min-w-[34rem] text-body"
                columns={[
                  { says: "When" },
                  { says: "For" },
                  { says: "Result" },
                  { says: "Net", right: true },
                  { says: "Tax", right: true },
                  { says: "Total", right: true },
                  { says: "Refunded", right: true },
                ]}
              >
                {story.charges.map((c) => (
                  <tr key={c.id} className="border-b border-line">
                    <td className="py-1">{studioMoment(c.at, zone)}</td>
                    <td>{c.plan ? `${c.plan}, ${c.n + 1}` : `order ${c.order_id}`}</td>
                    <td className={c.state === "succeeded" ? "" : "text-dusk"}>
                      {chargeWords[c.state]}
                      {c.reason && c.reason !== "refused" ? `: ${c.reason}` : ""}
                    </td>
                    <td className="text-right">{money(c.net)}</td>
                    <td className="text-right">{money(c.tax)}</td>
                    <td className="text-right">{money(c.gross)}</td>
                    <td className="text-right">{c.refunded ? money(c.refunded) : "–"}</td>
                  </tr>
                ))}
              </Table>
            ) : null}
          </section>
        </div>
        <div className="space-y-6">
          <section aria-label="What happened">
            <h2>What happened</h2>
            <ol className="mt-1">
              {story.facts.map((f) => (
                <li key={f.id} className="flex gap-3 border-t border-line py-1 text-body">
                  <time className="w-40 shrink-0 whitespace-nowrap text-soft tabular-nums">
                    {studioMoment(f.at, zone)}
                  </time>
                  <span>{s.words.story[f.kind](f)}</span>
                </li>
              ))}
              {story.facts.length === 0 ? <li className="text-soft">Nothing was paid.</li> : null}
            </ol>
          </section>
          <section aria-label="E-mails">
            <h2>E-mails</h2>
            <ul className="mt-1">
              {story.mails.map((m) => (
                <li key={m.id} className="flex gap-3 border-t border-line py-1 text-body">
                  <time className="w-40 shrink-0 whitespace-nowrap text-soft tabular-nums">
                    {studioMoment(m.sent_at ?? m.due_at, zone)}
                  </time>
                  <span>
                    {mailKinds[m.kind].label}: {m.state === "sent" ? "sent" : m.state}
                  </span>
                </li>
              ))}
              {story.mails.length === 0 ? <li className="text-soft">None.</li> : null}
            </ul>
          </section>
          <section aria-label="In the books">
            <h2>In the books</h2>
            <Table
              className="mt-1 text-body"
              columns={[{ says: "Account" }, { says: "Debit", right: true }, { says: "Credit", right: true }]}
            >
              {story.journal.map((j) => (
                <tr key={j.account + j.currency} className="border-t border-line">
                  <td className="py-1">{accounts[j.account as Account]}</td>
                  <td className="text-right">{j.amount > 0 ? moneyText(j.amount, j.currency) : ""}</td>
                  <td className="text-right">{j.amount < 0 ? moneyText(-j.amount, j.currency) : ""}</td>
                </tr>
              ))}
              <tr className="border-t-2 border-line font-semibold">
                <td className="py-1">Together</td>
                <td className="text-right">
                  {money(story.journal.reduce((sum, j) => sum + Math.max(0, j.amount), 0))}
                </td>
                <td className="text-right">
                  {money(story.journal.reduce((sum, j) => sum + Math.max(0, -j.amount), 0))}
                </td>
              </tr>
            </Table>
          </section>
        </div>
      </div>
    </>
  )
}
