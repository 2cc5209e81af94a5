"use client"

import { useId, useState } from "react"
import { Temporal } from "temporal-polyfill"
import { decimalOf, parseAmount } from "@/core/offer/money"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { option, SelectField, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { useAction } from "@/ui/use-action"
import { changeCouponAction, type Done, endCouponAction, makeCouponAction } from "../actions"

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
  affiliate: "",
}

type Around = {
  readonly currency: string
  readonly zone: string
  readonly offers: readonly { id: number; name: string }[]
  /** Those for whom a coupon can count, by the code in their links. */
  readonly affiliates: readonly { code: string; name: string }[]
}

export function NewCoupon({ open, ...around }: Around & { open: boolean }) {
  const [once, renew] = useOnce()
  return (
    <details open={open} className="mt-3">
      <summary className="cursor-pointer text-slate">New coupon</summary>
      <CouponForm
        {...around}
        start={blank}
        says="Make the coupon"
        save={(input) => makeCouponAction(input, once)}
        onSaved={renew}
        clears
      />
    </details>
  )
}

/** A coupon that is there, changed for whoever uses it from now on. */
export function ChangeCoupon({ coupon, ...around }: Around & { coupon: Coupon }) {
  const [open, setOpen] = useState(false)
  const day = (at: number | null, before: number) =>
    at === null
      ? ""
      : Temporal.Instant.fromEpochMilliseconds(at - before)
          .toZonedDateTimeISO(around.zone)
          .toPlainDate()
          .toString()
  const start = {
    givenOut: coupon.givenOut,
    code: coupon.code,
    kind: coupon.discount.kind,
    value:
      coupon.discount.kind === "percent"
        ? String(coupon.discount.value / 100)
        : decimalOf(coupon.discount.value, coupon.currency ?? around.currency),
    on: coupon.discount.on,
    offer: coupon.offers === null ? "" : String(coupon.offers[0] ?? ""),
    from: day(coupon.from, 0),
    until: day(coupon.until, 1),
    usesInAll: coupon.usesInAll === null ? "" : String(coupon.usesInAll),
    usesPerPerson: coupon.usesPerPerson === null ? "" : String(coupon.usesPerPerson),
    affiliate: coupon.affiliate,
  }
  return (
    <>
      <button
        type="button"
        className="text-label text-slate hover:underline"
        aria-label={`Change ${coupon.code}`}
        onClick={() => setOpen(true)}
      >
        Change
      </button>
      <Dialog open={open} onOpenChange={setOpen} title={`Change ${coupon.code}`} wide>
        <p className="text-soft">It counts for whoever uses it from now on. Orders keep what they were agreed with.</p>
        <CouponForm
          {...around}
          start={start}
          says="Save the coupon"
          save={(input) => changeCouponAction(coupon.id, input)}
          onSaved={() => setOpen(false)}
        />
      </Dialog>
    </>
  )
}

type Coupon = {
  readonly id: number
  readonly code: string
  readonly givenOut: string
  readonly discount: { readonly kind: "percent" | "amount"; readonly value: number; readonly on: "first" | "all" }
  readonly currency: string | null
  readonly offers: readonly number[] | null
  readonly from: number | null
  readonly until: number | null
  readonly usesInAll: number | null
  readonly usesPerPerson: number | null
  readonly affiliate: string
}

function CouponForm({
  currency,
  zone,
  offers,
  affiliates,
  start: first,
  says,
  save,
  clears = false,
  onSaved,
}: Around & {
  start: typeof blank
  says: string
  save: (input: unknown) => Promise<Done>
  clears?: boolean
  onSaved?: () => void
}) {
  const [f, set] = useState(first)
  const { busy, answer: done, run } = useAction()
  const names = useId()
  const error = (field: string) => (done.field === field ? done.refused : undefined)
  const day = (text: string, after: number) =>
    text === "" ? null : Temporal.PlainDate.from(text).add({ days: after }).toZonedDateTime(zone).epochMilliseconds
  const limit = (text: string) => (text.trim() === "" ? null : Number(text))
  const make = () => {
    const value =
      f.kind === "percent" ? Math.round(Number(f.value.replace(",", ".")) * 100) : parseAmount(f.value, currency)
    run(
      () =>
        save({
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
          affiliate: f.affiliate,
        }),
      () => {
        if (clears) set(blank)
        onSaved?.()
      },
    )
  }
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
    <form
      className="mt-3 grid max-w-4xl grid-cols-2 gap-3 md:grid-cols-4"
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
      <SelectField label="Discount" value={f.kind} onChange={(e) => set({ ...f, kind: e.target.value as "percent" })}>
        <option value="percent">a percentage</option>
        <option value="amount">an amount, {currency}</option>
      </SelectField>
      {text("value", f.kind === "percent" ? "Percentage" : `Amount, ${currency}`, { inputMode: "decimal" })}
      <SelectField label="Applies to" value={f.on} onChange={(e) => set({ ...f, on: e.target.value as "first" })}>
        <option value="first">the first charge</option>
        <option value="all">every charge</option>
      </SelectField>
      <SelectField label="Valid for" value={f.offer} onChange={(e) => set({ ...f, offer: e.target.value })}>
        <option value="">Everything</option>
        {offers.map((o) => option(o.id, o.name))}
      </SelectField>
      {text("from", "From", { type: "date" })}
      {text("until", "Until the end of", { type: "date" })}
      {text("usesInAll", "Uses in all", { inputMode: "numeric", hint: "Empty: no limit." })}
      {text("usesPerPerson", "Uses per person", { inputMode: "numeric" })}
      {affiliates.length || f.affiliate ? (
        <div className="col-span-2">
          {text("affiliate", "Counts for an affiliate", {
            list: names,
            maxLength: 40,
            hint: "The code in their links. Empty: for nobody.",
          })}
          <datalist id={names}>{affiliates.map((a) => option(a.code, a.name))}</datalist>
        </div>
      ) : null}
      <div className="col-span-2 flex md:col-span-4 items-center gap-3">
        <Button type="submit" look="primary" disabled={busy}>
          {says}
        </Button>
        {done.refused &&
        !["givenOut", "code", "value", "from", "until", "usesInAll", "usesPerPerson", "affiliate"].includes(
          done.field ?? "",
        ) ? (
          <p role="alert" className="font-semibold text-dusk">
            {done.refused}
          </p>
        ) : null}
      </div>
    </form>
  )
}

export function EndCoupon({ coupon, code }: { coupon: number; code: string }) {
  const { busy, run } = useAction()
  return (
    <button
      type="button"
      disabled={busy}
      aria-label={`End now: ${code}`}
      className="text-label text-slate hover:underline"
      onClick={() => run(() => endCouponAction(coupon))}
    >
      End now
    </button>
  )
}
