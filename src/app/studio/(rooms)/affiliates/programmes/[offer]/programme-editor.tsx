"use client"

import { useState } from "react"
import { Temporal } from "temporal-polyfill"
import { parsePercent, type Rate } from "@/core/affiliate/programme"
import { termsText } from "@/core/affiliate/words"
import { decimalOf, parseAmount } from "@/core/offer/money"
import type { ProgrammeInput } from "@/server/programme/programme"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Clash } from "@/ui/clash"
import { option, SelectField, TextArea, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { saveProgrammeAction } from "../../actions"

const labels: Readonly<Record<string, string>> = {
  on: "On or off",
  from: "From",
  until: "Until",
  rate: "Rate",
  charges: "Charges",
  bumps: "Order bumps",
  further: "Upsells",
  lessFees: "Fees",
  steps: "Steps",
  second: "Second level",
  about: "What it is about",
  approve: "New affiliates",
  step: "Where links lead",
}

/** What is paid, for what, and from when to when; saved as it is typed. */
export function ProgrammeEditor({
  offer,
  stored,
  currency,
  zone,
  pages,
}: {
  offer: number
  stored: Versioned<ProgrammeInput>
  currency: string
  zone: string
  pages: readonly { readonly id: number; readonly name: string }[]
}) {
  const { value: f, set, saved, clash, turn } = useShared(stored, (v, before) => saveProgrammeAction(offer, v, before))
  const error = (field: string) =>
    typeof saved === "object" && saved.field?.split(".")[0] === field ? saved.refused : undefined
  const day = (at: number | null, before: number) =>
    at === null
      ? ""
      : Temporal.Instant.fromEpochMilliseconds(at - before)
          .toZonedDateTimeISO(zone)
          .toPlainDate()
          .toString()
  const instant = (text: string, after: number) =>
    text ? Temporal.PlainDate.from(text).add({ days: after }).toZonedDateTime(zone).epochMilliseconds : null
  return (
    <div className="space-y-6">
      <div className="flex flex-wrap items-center justify-between gap-x-4">
        <Check checked={f.on} onChange={(on) => set({ ...f, on })}>
          <strong>The programme is on</strong>
        </Check>
        <p role="status" className="text-note text-soft">
          {saveWords(saved)}
        </p>
      </div>
      <Clash clash={clash} labels={labels} />
      <p className="rounded-md bg-reed-wash px-3 py-2">{termsText(f, null, currency)}</p>
      <section aria-label="What is paid" className="space-y-3">
        <h2>What is paid</h2>
        <RateFields
          key={turn}
          rate={f.rate}
          currency={currency}
          onChange={(rate) => set({ ...f, rate })}
          error={error("rate")}
        />
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <SelectField
            label="On which charges"
            value={f.charges === null ? "all" : f.charges === 1 ? "first" : "some"}
            onChange={(e) =>
              set({ ...f, charges: e.target.value === "all" ? null : e.target.value === "first" ? 1 : 3 })
            }
            hint="Of instalments and subscriptions."
          >
            <option value="all">every charge</option>
            <option value="first">the first charge</option>
            <option value="some">the first few</option>
          </SelectField>
          {f.charges !== null && f.charges > 1 ? (
            <NumberField
              label="How many"
              value={f.charges}
              onChange={(charges) => set({ ...f, charges })}
              least={2}
              most={600}
            />
          ) : null}
        </div>
        <Check checked={f.bumps} onChange={(bumps) => set({ ...f, bumps })}>
          Also on order bumps of the same order
        </Check>
        <Check checked={f.further} onChange={(further) => set({ ...f, further })}>
          Also on upsells and downsells that are accepted afterwards
        </Check>
        <Check
          checked={f.lessFees}
          onChange={(lessFees) => set({ ...f, lessFees })}
          hint="Tax and discounts are always taken off first."
        >
          Take off the card processor’s fee first
        </Check>
      </section>
      <section aria-label="Steps by volume" className="space-y-2">
        <h2>More for many sales</h2>
        <p className="text-soft">
          From so many sales of a month on, those and the following ones bring more. Nobody ever gets less by it.
        </p>
        {f.steps.map((x, i) => (
          <div key={`${turn}-${i}`} className="flex items-end gap-3">
            <NumberField
              label="From sale number"
              value={x.from}
              least={2}
              most={100_000}
              onChange={(from) => set({ ...f, steps: f.steps.map((y, k) => (k === i ? { ...y, from } : y)) })}
            />
            <PercentField
              label="Percentage"
              value={x.rate}
              onChange={(rate) => set({ ...f, steps: f.steps.map((y, k) => (k === i ? { ...y, rate } : y)) })}
            />
            <Button
              aria-label={`Remove the step from sale ${x.from}`}
              onClick={() => set({ ...f, steps: f.steps.filter((_, k) => k !== i) })}
            >
              Remove
            </Button>
          </div>
        ))}
        <Refusal>{error("steps")}</Refusal>
        {f.steps.length < 10 ? (
          <Button
            onClick={() => {
              const last = f.steps.at(-1)
              set({
                ...f,
                steps: [
                  ...f.steps,
                  { from: last ? last.from + 10 : 11, rate: Math.min(10_000, (last?.rate ?? 3000) + 1000) },
                ],
              })
            }}
          >
            Add a step
          </Button>
        ) : null}
      </section>
      <section aria-label="Second level" className="space-y-2">
        <h2>Second level</h2>
        <Check checked={f.second > 0} onChange={(on) => set({ ...f, second: on ? 500 : 0 })}>
          Whoever brought an affiliate gets a part of what that affiliate sells, too
        </Check>
        {f.second > 0 ? (
          <div className="max-w-40">
            <PercentField
              key={turn}
              label="Percentage"
              value={f.second}
              onChange={(second) => set({ ...f, second })}
              error={error("second")}
            />
          </div>
        ) : null}
      </section>
      <section aria-label="When and who" className="space-y-3">
        <h2>When, who, and where to</h2>
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <TextField
            label="From"
            type="date"
            value={day(f.from, 0)}
            onChange={(e) => set({ ...f, from: instant(e.target.value, 0) })}
            hint="Empty: from now on."
          />
          <TextField
            label="Until the end of"
            type="date"
            value={day(f.until, 1)}
            onChange={(e) => set({ ...f, until: instant(e.target.value, 1) })}
            error={error("until")}
            hint="Empty: without an end."
          />
          <SelectField
            label="New affiliates"
            value={f.approve}
            onChange={(e) => set({ ...f, approve: e.target.value as ProgrammeInput["approve"] })}
          >
            <option value="by-hand">are approved by you</option>
            <option value="at-once">can begin at once</option>
          </SelectField>
          <SelectField
            label="Where links lead"
            value={f.step ?? ""}
            onChange={(e) => set({ ...f, step: Number(e.target.value) || null })}
            hint="Affiliates can make links to any live page."
          >
            <option value="">to where the offer is sold</option>
            {pages.map((p) => option(p.id, p.name))}
          </SelectField>
        </div>
        <TextArea
          label="What it is about"
          hint="What they read before they join, and in the invitation."
          error={error("about")}
          rows={5}
          maxLength={4000}
          value={f.about}
          onChange={(e) => set({ ...f, about: e.target.value })}
        />
      </section>
    </div>
  )
}

function RateFields({
  rate,
  currency,
  onChange,
  error,
}: {
  rate: Rate
  currency: string
  onChange: (rate: Rate) => void
  error?: string
}) {
  const [typed, setTyped] = useState(
    rate.kind === "percent" ? String(rate.value / 100) : decimalOf(rate.value, currency),
  )
  const read = (kind: Rate["kind"], text: string) => {
    const value = kind === "percent" ? parsePercent(text) : parseAmount(text, currency)
    if (value !== null) onChange({ kind, value })
  }
  const wrong = (rate.kind === "percent" ? parsePercent(typed) : parseAmount(typed, currency)) === null
  return (
    <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
      <SelectField
        label="Rate"
        value={rate.kind}
        onChange={(e) => {
          const kind = e.target.value as Rate["kind"]
          const text = kind === "percent" ? "30" : "20"
          setTyped(text)
          read(kind, text)
        }}
      >
        <option value="percent">a percentage of what was paid</option>
        <option value="amount">an amount for each sale, {currency}</option>
      </SelectField>
      <TextField
        label={rate.kind === "percent" ? "Percentage" : `Amount, ${currency}`}
        inputMode="decimal"
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value)
          read(rate.kind, e.target.value)
        }}
        error={wrong ? (rate.kind === "percent" ? "A percentage, like 30 or 12.5." : "An amount, like 20.") : error}
      />
    </div>
  )
}

function PercentField({
  label,
  value,
  onChange,
  error,
}: {
  label: string
  value: number
  onChange: (value: number) => void
  error?: string
}) {
  const [typed, setTyped] = useState(String(value / 100))
  const wrong = parsePercent(typed) === null
  return (
    <TextField
      label={label}
      inputMode="decimal"
      value={typed}
      onChange={(e) => {
        setTyped(e.target.value)
        const read = parsePercent(e.target.value)
        if (read !== null) onChange(read)
      }}
      error={wrong ? "A percentage, like 40." : error}
    />
  )
}

function NumberField({
  label,
  value,
  least,
  most,
  onChange,
}: {
  label: string
  value: number
  least: number
  most: number
  onChange: (value: number) => void
}) {
  const [typed, setTyped] = useState(String(value))
  const read = (text: string) =>
    /^\d{1,6}$/.test(text) && Number(text) >= least && Number(text) <= most ? Number(text) : null
  return (
    <TextField
      label={label}
      inputMode="numeric"
      value={typed}
      onChange={(e) => {
        setTyped(e.target.value)
        const n = read(e.target.value)
        if (n !== null) onChange(n)
      }}
      error={read(typed) === null ? `A whole number, ${least} or more.` : undefined}
    />
  )
}
