"use client"

import { useRef } from "react"
import { moneyText } from "@/core/offer/money"
import { chargeCount, chargesOf, planOf } from "@/core/offer/plan"
import { dayText, sentence } from "@/core/offer/sentence"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { blankTerms, type TermsDraft, termsOf } from "../terms-draft"
import type { Rules } from "./offer-editor"

const kinds = {
  free: "free",
  full: "in full",
  instalments: "in instalments",
  subscription: "by subscription",
} as const

/** The ways an offer can be paid, each with the sentence that buyers read and the charges behind it. */
export function TermsEditor({
  terms,
  currency,
  rules,
  now,
  error,
  onChange,
}: {
  terms: readonly TermsDraft[]
  currency: string
  rules: Rules
  now: number
  error: (field: string) => string | undefined
  onChange: (terms: readonly TermsDraft[]) => void
}) {
  const made = useRef(0)
  return (
    <>
      {terms.map((t, i) => (
        <fieldset key={t.key} className="mt-3 min-w-0 rounded-lg border border-line bg-card p-4">
          <legend className="px-1 text-label font-semibold text-soft">
            {terms.length > 1 ? `Way ${i + 1} of ${terms.length}` : "The way to pay"}
          </legend>
          <OneWay
            d={t}
            currency={currency}
            error={(field) => error(`terms.${t.key}.${field}`)}
            onChange={(c) => onChange(terms.map((x) => (x.key === t.key ? { ...x, ...c } : x)))}
          />
          <Outcome d={t} currency={currency} rules={rules} now={now} />
          {terms.length > 1 ? (
            <div className="mt-3 flex gap-2">
              {i > 0 ? (
                <Button
                  onClick={() => {
                    const next = [...terms]
                    next.splice(i - 1, 2, terms[i]!, terms[i - 1]!)
                    onChange(next)
                  }}
                >
                  Move up
                </Button>
              ) : null}
              <Button look="danger" onClick={() => onChange(terms.filter((x) => x.key !== t.key))}>
                Remove
              </Button>
            </div>
          ) : null}
        </fieldset>
      ))}
      {terms.length < 8 ? (
        <Button
          className="mt-3"
          onClick={() => onChange([...terms, blankTerms(`n${++made.current}`, terms.length ? "instalments" : "full")])}
        >
          Add another way to pay
        </Button>
      ) : null}
    </>
  )
}

function OneWay({
  d,
  currency,
  error,
  onChange,
}: {
  d: TermsDraft
  currency: string
  error: (field: string) => string | undefined
  onChange: (change: Partial<TermsDraft>) => void
}) {
  const text = (
    field: "amount" | "upFront" | "times" | "everyCount" | "trialLength" | "trialAmount",
    label: string,
  ) => (
    <TextField
      label={label}
      inputMode={field === "times" || field === "everyCount" || field === "trialLength" ? "numeric" : "decimal"}
      value={d[field]}
      onChange={(e) => onChange({ [field]: e.target.value })}
      error={error(field)}
    />
  )
  const goesOn = d.kind === "instalments" || d.kind === "subscription"
  return (
    <div className="grid grid-cols-2 gap-3 sm:grid-cols-[1.35fr_1fr_1fr_1fr]">
      <SelectField
        label="Payment"
        value={d.kind}
        onChange={(e) => onChange({ kind: e.target.value as TermsDraft["kind"] })}
      >
        {Object.entries(kinds).map(([kind, says]) => option(kind, says))}
      </SelectField>
      {d.kind === "free" ? null : text("amount", goesOn ? `Each time, ${currency}` : `Amount, ${currency}`)}
      {goesOn ? (
        <>
          {text("everyCount", "Every")}
          <SelectField
            label="Interval"
            value={d.everyUnit}
            onChange={(e) => onChange({ everyUnit: e.target.value as TermsDraft["everyUnit"] })}
          >
            <option value="week">weeks</option>
            <option value="month">months</option>
            <option value="year">years</option>
          </SelectField>
          {d.kind === "instalments" || !d.endless ? text("times", "Number of payments") : null}
          {text("upFront", "Up front")}
        </>
      ) : null}
      {d.kind === "subscription" ? (
        <>
          <SelectField
            label="Ends"
            value={d.endless ? "" : "times"}
            onChange={(e) => onChange({ endless: e.target.value === "" })}
          >
            <option value="">When they cancel</option>
            <option value="times">After a number of payments</option>
          </SelectField>
          <SelectField
            label="Trial"
            value={d.trialUnit}
            onChange={(e) => onChange({ trialUnit: e.target.value as TermsDraft["trialUnit"] })}
          >
            <option value="none">None</option>
            <option value="day">days</option>
            <option value="month">months</option>
          </SelectField>
          {d.trialUnit === "none" ? null : text("trialLength", d.trialUnit === "day" ? "Days" : "Months")}
          {d.trialUnit === "none" ? null : text("trialAmount", "Price of the trial")}
        </>
      ) : null}
      <TextField
        label="Label buyers see"
        value={d.name}
        maxLength={80}
        placeholder="nothing"
        onChange={(e) => onChange({ name: e.target.value })}
      />
    </div>
  )
}

/** The sentence, and the charges it was made from. */
function Outcome({ d, currency, rules, now }: { d: TermsDraft; currency: string; rules: Rules; now: number }) {
  const read = termsOf(d, currency)
  if (!("terms" in read)) return null
  const plan = planOf(read.terms, { currency, tax: rules.tax, zone: rules.zone, start: now })
  const charges = chargesOf(plan, 6)
  const count = chargeCount(plan)
  const more = count === null ? "and so on, until they end it" : count > 6 ? `and ${count - 6} more` : ""
  return (
    <div className="mt-3 border-t border-line pt-2">
      <p className="font-semibold">{sentence([plan])}</p>
      {charges.length > 1 ? (
        <details className="mt-1 text-note">
          <summary className="text-slate">The charges, for whoever buys today</summary>
          <ol className="mt-1 max-w-sm">
            {charges.map((c) => (
              <li key={c.n} className="flex justify-between border-t border-line py-0.5 tabular-nums">
                <span>{dayText(c.day)}</span>
                <span>
                  {moneyText(c.gross, currency)}
                  {c.tax ? <span className="text-soft"> with {moneyText(c.tax, currency)} tax</span> : null}
                </span>
              </li>
            ))}
            {more ? <li className="border-t border-line py-0.5 text-soft">{more}</li> : null}
          </ol>
        </details>
      ) : null}
    </div>
  )
}
