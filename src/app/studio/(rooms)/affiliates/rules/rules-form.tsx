"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { ibanText } from "@/core/affiliate/iban"
import { decimalOf, parseAmount } from "@/core/offer/money"
import type { AffiliateRules } from "@/server/affiliate/rules"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { SelectField, TextField } from "@/ui/field"
import { type Done, saveRulesAction } from "../actions"

export function RulesForm({ rules, currency }: { rules: AffiliateRules; currency: string }) {
  const [f, set] = useState({
    days: String(rules.mention.days),
    which: rules.mention.which,
    consent: rules.consent,
    dueDays: String(rules.dueDays),
    least: decimalOf(rules.least, currency),
    payDays: rules.payDays.join(", "),
    withTax: rules.withTax,
    holder: rules.holder,
    iban: ibanText(rules.iban),
    bic: rules.bic,
    notePrefix: rules.notePrefix,
  })
  const [done, setDone] = useState<(Done & { saved?: true }) | null>(null)
  const [busy, start] = useTransition()
  const router = useRouter()
  const error = (field: string) => (done?.field?.split(".")[0] === field ? done.refused : undefined)
  const text = (
    key: "days" | "dueDays" | "least" | "payDays" | "holder" | "iban" | "bic" | "notePrefix",
    label: string,
    hint?: string,
  ) => (
    <TextField
      label={label}
      hint={hint}
      value={f[key]}
      onChange={(e) => {
        set({ ...f, [key]: e.target.value })
        setDone(null)
      }}
      error={error(key)}
    />
  )
  const whole = (typed: string) => (/^\d{1,4}$/.test(typed.trim()) ? Number(typed) : Number.NaN)
  return (
    <form
      className="mt-4 space-y-8"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const said = await saveRulesAction({
            ...f,
            days: whole(f.days),
            dueDays: whole(f.dueDays),
            least: parseAmount(f.least, currency) ?? Number.NaN,
            payDays: f.payDays
              .split(/[\s,]+/)
              .filter(Boolean)
              .map(whole),
          })
          setDone(said.refused ? said : { saved: true })
          router.refresh()
        })
      }}
    >
      <section aria-label="Whose link counts" className="space-y-3">
        <h2>Whose link counts</h2>
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <SelectField
            label="Which link counts"
            value={f.which}
            onChange={(e) => set({ ...f, which: e.target.value as "last" })}
            hint="A coupon of an affiliate counts before any link."
          >
            <option value="last">the last one before buying</option>
            <option value="first">the first one</option>
          </SelectField>
          {text("days", "For how many days", "Thirty is common.")}
        </div>
        <SelectField
          label="Remembering it on the visitor's device"
          value={f.consent}
          onChange={(e) => set({ ...f, consent: e.target.value as "asked" })}
          hint="By a cookie of your own site. Ask your lawyer which of the two holds where you and your readers are."
        >
          <option value="not-needed">needs no consent</option>
          <option value="asked">is asked first, on the page</option>
        </SelectField>
      </section>
      <section aria-label="When it is paid" className="space-y-3">
        <h2>When it is paid</h2>
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
          {text("dueDays", "Due after, days", "As long as buyers may ask for their money back.")}
          {text("payDays", "Days of the month", "For instance: 1, 15")}
          {text("least", "Least amount", "Less waits for the next payout.")}
        </div>
      </section>
      <section aria-label="The bank" className="space-y-3">
        <h2>The account that pays</h2>
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          {text("holder", "Account holder", "Empty: the name of the school.")}
          {text("iban", "Account number (IBAN)")}
          {text("bic", "BIC", "Only where your bank asks for it.")}
          {text("notePrefix", "Credit notes begin with", `For instance: ${f.notePrefix || "CN"}-2026-0001`)}
        </div>
        <Check
          checked={f.withTax}
          onChange={(withTax) => set({ ...f, withTax })}
          hint="For affiliates who have given a tax number. The rate is the school's, from Settings."
        >
          Pay tax on top of commission
        </Check>
      </section>
      <div className="flex items-center gap-3">
        <Button type="submit" look="primary" disabled={busy}>
          Save
        </Button>
        <p role="status" className={done?.refused ? "font-semibold text-dusk" : "text-soft"}>
          {done?.saved ? "Saved." : done?.refused && !done.field ? done.refused : ""}
        </p>
      </div>
    </form>
  )
}
