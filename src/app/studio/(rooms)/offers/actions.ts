"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { studio } from "@/app/guard"
import { isCurrency, parseAmount } from "@/core/offer/money"
import { changeCoupon, endCoupon, makeCoupon } from "@/server/offer/coupon"
import { removeOffer, saveOffer, sellingRules } from "@/server/offer/offer"
import { makeOnce } from "@/server/once"
import type { Before } from "@/server/shared"

export type Done = { readonly refused?: string; readonly field?: string }

export async function newOfferAction(_: Done, form: FormData): Promise<Done> {
  const s = await studio()
  const { currency } = await sellingRules(s.db)
  const typed = String(form.get("price") ?? "").trim()
  const amount = typed === "" ? 0 : parseAmount(typed, currency)
  if (amount === null) return { refused: `An amount in ${currency}, or nothing if it is free.`, field: "price" }
  const course = Number(form.get("course"))
  const offer = {
    id: null,
    publicName: String(form.get("name") ?? ""),
    internalName: "",
    promise: "",
    pictureId: null,
    currency: isCurrency(currency) ? currency : "EUR",
    gifts: course ? [{ kind: "course", course }] : [],
    terms: [{ id: null, name: "", terms: amount ? { kind: "full", amount } : { kind: "free" } }],
    pieces: null,
    perPerson: null,
    from: null,
    until: null,
    hidden: false,
    afterFailure: "ends",
  }
  const done = await makeOnce(s, form.get("once"), async (x) => {
    const made = await saveOffer(x, offer)
    return "id" in made ? { ok: true, id: made.id } : made
  })
  if ("refused" in done) return { refused: done.refused, field: "name" }
  revalidatePath("/studio/offers", "layout")
  redirect(`/studio/offers/${done.id}`)
}

export const saveOfferAction = async (input: unknown, before?: Before) => saveOffer(await studio(), input, before)

export async function removeOfferAction(offer: number): Promise<Done> {
  const done = await removeOffer(await studio(), offer)
  if ("refused" in done) return done
  revalidatePath("/studio/offers", "layout")
  redirect("/studio/offers")
}

export async function makeCouponAction(input: unknown, once: string): Promise<Done> {
  const done = await makeOnce(await studio(), once, (s) => makeCoupon(s, input))
  revalidatePath("/studio/offers/coupons")
  return "refused" in done ? done : {}
}

export async function changeCouponAction(coupon: number, input: unknown): Promise<Done> {
  const done = await changeCoupon(await studio(), coupon, input)
  revalidatePath("/studio/offers/coupons")
  return "refused" in done ? done : {}
}

export async function endCouponAction(coupon: number): Promise<void> {
  await endCoupon(await studio(), coupon)
  revalidatePath("/studio/offers/coupons")
}
