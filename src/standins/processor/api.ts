// The stand-in's interface for a school's server, as openapi.json describes it: payments, kept cards, refunds.
import { createHash, randomBytes } from "node:crypto"
import * as v from "valibot"
import { passesLuhn } from "@/core/offer/card"
import { tryingCard } from "@/server/port/cards"
import { behaviourOf, type Card, type Dispute, type Payment, type Store } from "./store"

export type Reply = { readonly status: number; readonly body: unknown }

const amount = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(9_999_999_999))
const text = (most: number) => v.pipe(v.string(), v.maxLength(most))

const paymentInput = v.object({
  amount,
  currency: v.pipe(v.string(), v.regex(/^[A-Z]{3}$/)),
  /** A token of the card fields, or a kept card. */
  card: text(60),
  statement: v.pipe(v.string(), v.regex(/^[A-Za-z0-9 .,&/+-]{5,22}$/)),
  reference: text(80),
  returnTo: text(400),
  /** Whether the buyer is there to confirm. */
  present: v.boolean(),
})
const cardInput = v.object({ card: text(60) })
const refundInput = v.object({ payment: text(60), amount })
const tokenInput = v.object({
  number: v.pipe(
    v.string(),
    v.transform((n) => n.replace(/[\s-]/g, "")),
  ),
  expires: v.pipe(v.string(), v.regex(/^(0[1-9]|1[0-2])\s*\/\s*\d{2}$/, "Month and year, like 08/29.")),
  code: v.pipe(v.string(), v.regex(/^\d{3,4}$/, "Three or four digits.")),
})

const id = (kind: string) => `${kind}_${randomBytes(12).toString("base64url")}`
const problem = (status: number, says: string): Reply => ({ status, body: { error: says } })

/** What a school's server sees of a payment. */
export function shown(p: Payment, origin: string) {
  const { behaves: _, ...card } = p.card
  return { ...p, card, confirm: p.state === "needs-confirmation" ? `${origin}/bank/${p.id}` : null }
}

/** The same key asks for the same thing and gets the same answer; another thing under it is a mistake. */
function once(store: Store, key: string, body: unknown, work: () => Reply): Reply {
  const asked = JSON.stringify(body)
  const before = store.answers.get(key)
  if (before)
    return before.asked === asked
      ? { status: before.status, body: before.body }
      : problem(409, "another request used this key")
  const reply = work()
  if (reply.status < 500) store.keep({ kind: "answer", value: { key, asked, ...reply } })
  return reply
}

/** The card by which a school tries its connection. */
const trying: Card = { id: tryingCard, behaves: "fine", last4: "0000", expires: "12/99" }

function cardOf(store: Store, given: string): Card | undefined {
  return given === tryingCard ? trying : (store.cards.get(given) ?? store.tokens.get(given))
}

function kept(store: Store, card: Card): Card {
  if (store.cards.has(card.id)) return card
  const made = { ...card, id: id("card") }
  store.keep({ kind: "card", value: made })
  return made
}

export function pay(store: Store, origin: string, key: string, body: unknown): Reply & { payment?: Payment } {
  const read = v.safeParse(paymentInput, body)
  if (!key || !read.success) return problem(422, read.success ? "Idempotency-Key is missing" : read.issues[0].message)
  if (store.voided.has(key)) return problem(410, "this key was given up")
  let made: Payment | undefined
  const reply = once(store, `pay:${key}`, read.output, () => {
    const p = read.output
    const card = cardOf(store, p.card)
    if (!card) return problem(422, "no such card")
    const { behaves } = card
    const reason =
      behaves === "refused" || behaves === "insufficient" || behaves === "expired"
        ? behaves
        : behaves === "later" && !p.present
          ? "insufficient"
          : behaves === "confirm" && !p.present && !store.cards.has(card.id)
            ? "not-confirmed"
            : null
    made = {
      id: id("pay"),
      key,
      amount: p.amount,
      currency: p.currency,
      statement: p.statement,
      reference: p.reference,
      returnTo: p.returnTo,
      card: reason ? card : kept(store, card),
      state: reason ? "refused" : behaves === "confirm" && p.present ? "needs-confirmation" : "succeeded",
      reason,
      refunded: 0,
      at: new Date().toISOString(),
      ...(store.behaviour.keeps === "nothing" ? {} : { fee: Math.round(p.amount * 0.015) + 25 }),
    }
    store.keep({ kind: "payment", value: made })
    return { status: 200, body: shown(made, origin) }
  })
  // The answer is kept as it was first given; how the payment stands now may be further on.
  const now = store.payments.get((reply.body as { id?: string }).id ?? "")
  return { ...reply, body: now ? shown(now, origin) : reply.body, payment: made }
}

export function askByKey(store: Store, origin: string, key: string): Reply {
  const found = store.paymentByKey(key)
  return { status: 200, body: { payment: found ? shown(found, origin) : null } }
}

/** Gives a key up: nothing will be charged under it. A payment that has succeeded stays, and is said. */
export function giveUp(store: Store, origin: string, key: string): Reply & { payment?: Payment } {
  const found = store.paymentByKey(key)
  if (!found) {
    store.keep({ kind: "void", value: { key } })
    return { status: 200, body: { payment: null } }
  }
  if (found.state !== "needs-confirmation") return { status: 200, body: { payment: shown(found, origin) } }
  const payment: Payment = { ...found, state: "cancelled" }
  store.keep({ kind: "void", value: { key } }, { kind: "payment", value: payment })
  return { status: 200, body: { payment: shown(payment, origin) }, payment }
}

/** Keeps a card without charging it. */
export function keepCard(store: Store, key: string, body: unknown): Reply {
  const read = v.safeParse(cardInput, body)
  if (!key || !read.success) return problem(422, read.success ? "Idempotency-Key is missing" : read.issues[0].message)
  return once(store, `card:${key}`, read.output, () => {
    const card = cardOf(store, read.output.card)
    if (!card) return problem(422, "no such card")
    if (card.behaves === "refused" || card.behaves === "expired" || card.behaves === "insufficient")
      return { status: 200, body: { card: null, reason: card.behaves } }
    const { behaves: _, ...made } = kept(store, card)
    return { status: 200, body: { card: made, reason: null } }
  })
}

export function refund(store: Store, key: string, body: unknown): Reply & { payment?: Payment } {
  const read = v.safeParse(refundInput, body)
  if (!key || !read.success) return problem(422, read.success ? "Idempotency-Key is missing" : read.issues[0].message)
  let changed: Payment | undefined
  const reply = once(store, `refund:${key}`, read.output, () => {
    const payment = store.payments.get(read.output.payment)
    if (payment?.state !== "succeeded") return problem(422, "no such payment")
    if (payment.refunded + read.output.amount > payment.amount) return problem(422, "more than was paid")
    const made = { id: id("refund"), key, payment: payment.id, amount: read.output.amount }
    changed = { ...payment, refunded: payment.refunded + made.amount }
    store.keep({ kind: "refund", value: made }, { kind: "payment", value: changed })
    return { status: 200, body: made }
  })
  return { ...reply, payment: changed }
}

/** The buyer's bank takes back what is left of a payment. */
export function dispute(store: Store, payment: string): Dispute | undefined {
  const found = store.payments.get(payment)
  if (found?.state !== "succeeded" || found.refunded >= found.amount) return undefined
  store.keep({ kind: "payment", value: { ...found, refunded: found.amount } })
  return { id: id("dispute"), payment, amount: found.amount - found.refunded, currency: found.currency }
}

/** Card details become a token. Only the stand-in's own card fields ask for this. */
export function tokenise(store: Store, body: unknown): Reply {
  const read = v.safeParse(tokenInput, body)
  if (!read.success) return problem(422, read.issues[0].message)
  const { number, expires, code } = read.output
  if (!passesLuhn(number)) return problem(422, "This isn't a card number: please check its digits.")
  const behaves = behaviourOf(number)
  if (!behaves) return problem(422, "Only the test cards work here: see the list below.")
  const token: Card = {
    id: id("tok"),
    behaves,
    last4: number.slice(-4),
    expires: expires.replace(/\s/g, ""),
    fingerprint: createHash("sha256")
      .update(`${number} ${expires.replace(/\s/g, "")} ${code}`)
      .digest("base64url")
      .slice(0, 22),
  }
  store.keep({ kind: "token", value: token })
  return { status: 200, body: { token: token.id, last4: token.last4 } }
}

/** What the buyer said on the page of their bank. */
export function confirmAtBank(store: Store, payment: string, agreed: boolean): Payment | undefined {
  const found = store.payments.get(payment)
  if (found?.state !== "needs-confirmation") return found
  const done: Payment = agreed
    ? { ...found, state: "succeeded" }
    : { ...found, state: "refused", reason: "not-confirmed" }
  store.keep({ kind: "payment", value: done })
  return done
}
