"use client"

import { useState, useTransition } from "react"
import { moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"
import type { Reckoned } from "@/server/affiliate/reckon"
import { Button } from "@/ui/button"
import { TextLink } from "@/ui/link"
import { reckonAction } from "../actions"

/** Every commission reckoned anew, and held against what was written and booked. */
export function ReckonAnew() {
  const [said, setSaid] = useState<Reckoned>()
  const [busy, start] = useTransition()
  return (
    <section className="mt-8 max-w-3xl" aria-labelledby="anew">
      <h2 id="anew">Do the numbers agree?</h2>
      <p className="mt-1 text-soft">
        Every commission is reckoned anew from what was charged and given back, and held against its line and against
        the books.
      </p>
      <div className="mt-2">
        <Button disabled={busy} onClick={() => start(async () => setSaid(await reckonAction()))}>
          {busy ? "Recalculating…" : "Recalculate"}
        </Button>
      </div>
      <div role="status">{said ? <Said {...said} /> : null}</div>
    </section>
  )
}

function Said({ charges, sums, wrong }: Reckoned) {
  const of = `${charges.toLocaleString(locale)} ${charges === 1 ? "charge" : "charges"}`
  if (!wrong.length)
    return (
      <p className="mt-2">
        {charges === 0
          ? "Nothing has been charged yet that counts for an affiliate."
          : `They agree to the cent: ${sums.map((x) => moneyText(x.reckoned, x.currency)).join(" and ")} of ${of}, reckoned, written and booked.`}
      </p>
    )
  return (
    <div className="mt-2">
      <p className="font-semibold text-dusk">
        They don’t agree, of {of}. {wrong.length === 1 ? "This is where:" : "These are where, the first of them:"}
      </p>
      <ul className="mt-1 list-disc pl-5">
        {wrong.map((w) => (
          <li key={w.charge}>
            <TextLink href={`/studio/ledger/orders/${w.order}`}>Order {w.order}</TextLink>:{" "}
            {moneyText(w.reckoned, w.currency)} reckoned, {moneyText(w.written, w.currency)} written,{" "}
            {moneyText(w.booked, w.currency)} booked
          </li>
        ))}
      </ul>
    </div>
  )
}
