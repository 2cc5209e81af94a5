// The port to a card processor, and the one behind it: HTTP with idempotency keys, webhooks after the Standard Webhooks
// specification. Amounts are minor units. What a call came to is unknown after CardsUnreachable, until asked for by its key.

import { randomBytes } from "node:crypto"
import { Webhook } from "standardwebhooks"
import * as v from "valibot"
import { refusals } from "@/core/words/refusals"
import type { Refused } from "../saved"

export type KeptCard = {
  readonly id: string
  readonly last4: string
  readonly expires: string
  /** The same for the same card, however often it is kept; not every processor says it. */
  readonly fingerprint?: string
}

export type CardAnswer = {
  readonly id: string
  readonly key: string
  readonly amount: number
  readonly currency: string
  readonly state: "succeeded" | "refused" | "needs-confirmation" | "cancelled"
  readonly reason: "refused" | "insufficient" | "expired" | "not-confirmed" | null
  /** The bank's page, where one is to be asked. */
  readonly confirm: string | null
  readonly card: KeptCard
  /** What the processor keeps of it, where it says so. */
  readonly fee?: number
}

/** The bank of a buyer has taken money back. */
export type Dispute = {
  readonly id: string
  /** As the processor calls it. */
  readonly payment: string
  readonly amount: number
  readonly currency: string
}

export type HookWord = { readonly payment: CardAnswer } | { readonly dispute: Dispute }

export type Payment = {
  readonly key: string
  readonly amount: number
  readonly currency: string
  /** A token from the card fields, or a kept card. */
  readonly card: string
  readonly statement: string
  readonly reference: string
  readonly returnTo: string
  readonly present: boolean
}

export type CardProcessor = {
  /** Origin of the card fields and of the bank's page. */
  readonly origin: string
  /** The stand-in: no money moves. */
  readonly test: boolean
  pay(payment: Payment): Promise<CardAnswer>
  ask(key: string): Promise<CardAnswer | null>
  /** After this nothing can be charged under the key; what had succeeded before is said. */
  giveUp(key: string): Promise<CardAnswer | null>
  keep(key: string, card: string): Promise<{ card: KeptCard } | { reason: NonNullable<CardAnswer["reason"]> }>
  refund(r: { key: string; payment: string; amount: number }): Promise<string>
  /** What a webhook says; throws where it isn't the processor's, or is too old. */
  readHook(headers: Record<string, string>, body: string): HookWord | null
}

/** Nobody knows whether it happened. */
export class CardsUnreachable extends Error {}
/** It didn't happen: the call itself was refused. */
export class CardsRefusal extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message)
  }
}

const card = v.object({
  id: v.string(),
  last4: v.string(),
  expires: v.string(),
  fingerprint: v.optional(v.pipe(v.string(), v.maxLength(80))),
})
const answer = v.object({
  id: v.string(),
  key: v.string(),
  amount: v.pipe(v.number(), v.integer()),
  currency: v.string(),
  state: v.picklist(["succeeded", "refused", "needs-confirmation", "cancelled"]),
  reason: v.nullable(v.picklist(["refused", "insufficient", "expired", "not-confirmed"])),
  confirm: v.nullable(v.string()),
  card,
  fee: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0))),
})
const dispute = v.object({
  id: v.pipe(v.string(), v.maxLength(60)),
  payment: v.string(),
  amount: v.pipe(v.number(), v.integer(), v.minValue(1)),
  currency: v.string(),
})
const maybe = v.object({ payment: v.nullable(answer) })
const hook = v.object({ type: v.string(), data: v.unknown() })

export type CardsConfig = { readonly url: string; readonly key: string; readonly hookSecret: string }

/** How long an answer is waited for, ms: a buyer stands there. */
const patience = 10_000

export function httpCards(config: CardsConfig, test = false): CardProcessor {
  const { origin } = new URL(config.url)
  const call = async <T extends v.GenericSchema>(
    schema: T,
    method: "GET" | "POST",
    path: string,
    key: string,
    body?: unknown,
  ): Promise<v.InferOutput<T>> => {
    let response: Response
    let json: unknown
    try {
      const request = {
        method,
        headers: {
          authorization: `Bearer ${config.key}`,
          ...(method === "POST" ? { "content-type": "application/json", "idempotency-key": key } : {}),
        },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        signal: AbortSignal.timeout(patience),
      }
      // A connection that was kept open and has gone is tried anew: under its key the same call is harmless.
      response = await fetch(`${config.url}${path}`, request).catch((error) => {
        if (request.signal.aborted) throw error
        return fetch(`${config.url}${path}`, request)
      })
      json = await response.json()
    } catch (error) {
      throw new CardsUnreachable(
        error instanceof SyntaxError ? refusals.processor.notOne : String((error as Error).message ?? error),
      )
    }
    if (response.status >= 500) throw new CardsUnreachable(`the card processor said ${response.status}`)
    if (!response.ok)
      throw new CardsRefusal(response.status, String((json as { error?: unknown }).error ?? response.status))
    const read = v.safeParse(schema, json)
    if (!read.success) throw new CardsUnreachable(refusals.processor.notOne)
    return read.output
  }
  /** The bank's page must be the processor's own: nobody is sent to an address from elsewhere. */
  const own = <T extends CardAnswer | null>(a: T): T => {
    if (a?.confirm && new URL(a.confirm).origin !== origin)
      throw new CardsUnreachable("an address that isn't the processor's")
    return a
  }
  return {
    origin,
    test,
    pay: async ({ key, ...payment }) => own(await call(answer, "POST", "/payments", key, payment)),
    ask: async (key) => own((await call(maybe, "GET", `/payments?key=${encodeURIComponent(key)}`, key)).payment),
    giveUp: async (key) => own((await call(maybe, "POST", "/give-up", key)).payment),
    keep: async (key, token) => {
      const done = await call(
        v.object({
          card: v.nullable(card),
          reason: v.nullable(v.picklist(["refused", "insufficient", "expired", "not-confirmed"])),
        }),
        "POST",
        "/cards",
        key,
        { card: token },
      )
      return done.card ? { card: done.card } : { reason: done.reason ?? "refused" }
    },
    refund: async ({ key, ...refund }) =>
      (await call(v.object({ id: v.string() }), "POST", "/refunds", key, refund)).id,
    readHook: (headers, body) => {
      const said = v.parse(hook, new Webhook(config.hookSecret).verify(body, headers))
      if (said.type === "payment.changed") return { payment: v.parse(answer, said.data) }
      return said.type === "payment.disputed" ? { dispute: v.parse(dispute, said.data) } : null
    },
  }
}

/** The card that moves no money, under which every processor behind this port can be tried. */
export const tryingCard = "test"

/** Charges the processor's own test card and gives it back: what a buyer will meet, in words where it doesn't work. */
export async function tryCards(cards: CardProcessor, currency: string): Promise<{ ok: true } | Refused> {
  const key = `try-${randomBytes(9).toString("base64url")}`
  try {
    const done = await cards.pay({
      key,
      amount: 100,
      currency,
      card: tryingCard,
      statement: "TEST CHARGE",
      reference: "a try from the settings",
      returnTo: "",
      present: true,
    })
    if (done.state !== "succeeded") return { refused: refusals.processor.testCard }
    await cards.refund({ key: `${key}-back`, payment: done.id, amount: 100 })
    return { ok: true }
  } catch (error) {
    if (error instanceof CardsRefusal)
      return {
        refused:
          error.status === 401 || error.status === 403
            ? refusals.processor.key
            : refusals.processor.question(error.message),
      }
    if (error instanceof CardsUnreachable) return { refused: refusals.processor.noAnswer(error.message) }
    throw error
  }
}
