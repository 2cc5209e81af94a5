import type { Metadata } from "next"
import { affiliateHere, context } from "@/app/guard"
import { ibanShort } from "@/core/affiliate/iban"
import { termsText } from "@/core/affiliate/words"
import { bankOf, waitingBank } from "@/server/affiliate/bank"
import { bonusesFor } from "@/server/affiliate/bonus"
import { partsFor } from "@/server/affiliate/portal"
import { TextLink } from "@/ui/link"
import { AboutMe, BankForm, Bonuses } from "./forms"

export const metadata: Metadata = { title: "Account" }

export default async function AccountPage() {
  const a = await affiliateHere()
  const { db, clock } = context()
  const now = await clock.now()
  const bank = (await bankOf(db, a.id))!
  const waiting = await waitingBank(db, a.id, now)
  const parts = await partsFor(db, a.id, now)
  return (
    <>
      <h1>Account</h1>
      <section aria-label="Bank details" className="mt-4">
        <h2>Where you are paid</h2>
        <p className="mt-1">
          {bank.iban ? `To ${bank.holder}, ${ibanShort(bank.iban)}.` : "Nowhere yet: type your bank details."}
        </p>
        {waiting ? (
          <p role="status" className="mt-1 font-semibold">
            {ibanShort(waiting.iban)} waits for the button in the e-mail that we sent you.
          </p>
        ) : null}
        <BankForm holder={bank.holder} postal={bank.postal} taxNumber={bank.taxNumber} bic={bank.bic} />
      </section>
      {a.state === "active" ? (
        <>
          <section aria-label="About you" className="mt-8">
            <h2>What others see</h2>
            <AboutMe now={a.name} name={a.wantedName ?? a.name} shown={a.shown} code={a.code} />
          </section>
          <section aria-label="Bonuses" className="mt-8">
            <h2>Bonuses for your buyers</h2>
            <Bonuses
              all={await bonusesFor(db, a.id)}
              programmes={parts.filter((p) => p.runs).map((p) => ({ id: p.programme.offer, name: p.programme.name }))}
            />
          </section>
        </>
      ) : null}
      <section aria-label="Programmes" className="mt-8">
        <h2>What you are paid for</h2>
        <ul className="mt-1">
          {parts.map((p) => (
            <li key={p.programme.offer} className="border-t border-line py-2">
              <strong>{p.programme.name}</strong>
              <p>{termsText(p.programme.terms, p.rate, p.programme.currency)}</p>
              <p className="text-body text-soft">
                {p.runs ? "It runs." : "It does not run just now; what you sold goes on being paid."}
              </p>
            </li>
          ))}
        </ul>
        <p className="mt-2">
          <TextLink href="/affiliate/programmes">Conditions, and other programmes</TextLink>
        </p>
      </section>
    </>
  )
}
