"use client"

import { useState, useTransition } from "react"
import { Temporal } from "temporal-polyfill"
import { parseAmount } from "@/core/offer/money"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import { type Done, endCouponAction, makeCouponAction } from "../actions"

const blank = {
  givenOut: "",
  code: "",
  kind: "percent" as "percent" | "amount",
  value: "",
  on: "first" as "first" | "all",
  offer: "",
  from: "",
  until: "",
  usesInAll: "",
  usesPerPerson: "1",
}

export function NewCoupon({
  currency,
  zone,
  offers,
  open,
}: {
  currency: string
  zone: string
  offers: readonly { id: number; name: string }[]
  open: boolean
}) {
  const [f, set] = useState(blank)
  const [done, setDone] = useState<Done>({})
  const [busy, start] = useTransition()
  const error = (field: string) => (done.field === field ? done.refused : undefined)
  const day = (text: string, after: number) =>
    text === "" ? null : Temporal.PlainDate.from(text).add({ days: after }).toZonedDateTime(zone).epochMilliseconds
  const limit = (text: string) => (text.trim() === "" ? null : Number(text))
  const make = () =>
    start(async () => {
      const value =
        f.kind === "percent" ? Math.round(Number(f.value.replace(",", ".")) * 100) : parseAmount(f.value, currency)
      const said = await makeCouponAction({
        code: f.code,
        givenOut: f.givenOut,
        kind: f.kind,
        value: value === null ? Number.NaN : value,
        currency: f.kind === "amount" ? currency : null,
        on: f.on,
        offers: f.offer ? [Number(f.offer)] : [],
        from: day(f.from, 0),
        until: day(f.until, 1),
        usesInAll: limit(f.usesInAll),
        usesPerPerson: limit(f.usesPerPerson),
      })
      setDone(said)
      if (!said.refused) set(blank)
    })
  const text = (key: keyof typeof blank, label: string, more: Partial<React.ComponentProps<typeof TextField>> = {}) => (
    <TextField
      label={label}
      value={f[key]}
      onChange={(e) => set({ ...f, [key]: e.target.value })}
      error={error(key)}
      {...more}
    />
  )
  return (
    <details open={open} className="mt-3">
      <summary className="text-slate">New coupon</summary>
      <form
        className="mt-3 grid max-w-4xl grid-cols-4 gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          make()
        }}
      >
        <div className="col-span-2">
          {text("givenOut", "Where it is given out", { maxLength: 120, placeholder: "garden letter, November" })}
        </div>
        <div className="col-span-2">
          {text("code", "Code", { maxLength: 40, hint: "Capitals, spaces and hyphens don't matter." })}
        </div>
        <SelectField
          label="Takes off"
          value={f.kind}
          onChange={(e) => set({ ...f, kind: e.target.value as "percent" })}
        >
          <option value="percent">a share, in %</option>
          <option value="amount">an amount, {currency}</option>
        </SelectField>
        {text("value", f.kind === "percent" ? "How much, %" : `How much, ${currency}`, { inputMode: "decimal" })}
        <SelectField label="Of" value={f.on} onChange={(e) => set({ ...f, on: e.target.value as "first" })}>
          <option value="first">the first charge</option>
          <option value="all">every charge</option>
        </SelectField>
        <SelectField label="Counts for" value={f.offer} onChange={(e) => set({ ...f, offer: e.target.value })}>
          <option value="">everything</option>
          {offers.map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
        </SelectField>
        {text("from", "From", { type: "date" })}
        {text("until", "Until the end of", { type: "date" })}
        {text("usesInAll", "Uses in all", { inputMode: "numeric", hint: "Empty: no limit." })}
        {text("usesPerPerson", "Uses per person", { inputMode: "numeric" })}
        <div className="col-span-4 flex items-center gap-3">
          <Button type="submit" look="primary" disabled={busy}>
            Make the coupon
          </Button>
          {done.refused && !["givenOut", "code", "value", "usesInAll", "usesPerPerson"].includes(done.field ?? "") ? (
            <p role="alert" className="font-semibold text-dusk">
              {done.refused}
            </p>
          ) : null}
        </div>
      </form>
    </details>
  )
}

export function EndCoupon({ coupon, code }: { coupon: number; code: string }) {
  const [busy, start] = useTransition()
  return (
    <button
      type="button"
      disabled={busy}
      aria-label={`End it now: ${code}`}
      className="text-[0.87rem] text-slate hover:underline"
      onClick={() => start(() => endCouponAction(coupon))}
    >
      End it now
    </button>
  )
}
