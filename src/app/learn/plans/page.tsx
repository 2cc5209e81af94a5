import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { admitted, context } from "@/app/guard"
import { moneyText } from "@/core/offer/money"
import { dayText } from "@/core/offer/sentence"
import { type MyPlan, myPlans } from "@/server/ledger/renew"
import { TextLink } from "@/ui/link"
import { ChangeCard } from "./change-card"
import { EndPlan } from "./end-plan"

export const metadata: Metadata = { title: "My plans" }

export default async function MyPlansPage() {
  const who = await admitted()
  if (who === null) redirect(`/learn/sign-in?to=${encodeURIComponent("/learn/plans")}`)
  const s = context()
  // A device that only ordered opens what was bought; cards and plans want the mailbox's proof.
  if (who.scope !== null)
    return (
      <>
        <h1>My plans</h1>
        <p className="mt-4">
          On this device you can open what you bought here. To see what goes on being paid, or to change it, sign in by
          a link that we mail you.
        </p>
        <p className="mt-4">
          <TextLink href={`/learn/sign-in?to=${encodeURIComponent("/learn/plans")}`}>Mail me a sign-in link</TextLink>
        </p>
      </>
    )
  const plans = await myPlans(s.db, who.person)
  return (
    <>
      <h1>My plans</h1>
      {plans.length === 0 ? (
        <p className="mt-4">You have no running plan. You find your instalments and subscriptions here.</p>
      ) : null}
      {plans.map((p) => (
        <article key={p.id} className="mt-6 border-t border-line pt-4 first-of-type:border-0">
          <h2 className="text-xl">{p.name}</h2>
          <p className="mt-1">{p.says}</p>
          <p className={`mt-1 ${p.state === "behind" ? "font-semibold text-dusk" : "text-soft"}`}>{standing(p)}</p>
          {p.state === "running" || p.state === "behind" ? (
            <>
              {p.card ? (
                <p className="mt-1 text-soft">
                  Paid by the card ending in {p.card.last4}, good until {p.card.expires}.
                </p>
              ) : null}
              <div className="mt-3 flex flex-wrap items-start gap-3">
                {s.cards ? <ChangeCard plan={p.id} cards={s.cards.origin} behind={p.state === "behind"} /> : null}
                {p.endless ? <EndPlan plan={p.id} until={p.nextDay ? dayText(p.nextDay) : null} /> : null}
              </div>
            </>
          ) : null}
        </article>
      ))}
      <p className="mt-8">
        <TextLink href="/learn">My courses</TextLink>
      </p>
    </>
  )
}

function standing(p: MyPlan): string {
  const next = p.nextDay ? `${moneyText(p.nextAmount, p.currency)} on ${dayText(p.nextDay)}` : ""
  switch (p.state) {
    case "running":
      return `Next: ${next}.`
    case "behind":
      return `Your card was refused for ${next}. Please use another card, or try this one again.`
    case "finished":
      return "Paid to the end. Nothing more is charged."
    case "ended":
      return `Ended${p.endedWhy ? `: ${p.endedWhy}` : ""}. Nothing more is charged.`
  }
}
