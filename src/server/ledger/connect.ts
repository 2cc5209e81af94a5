// Connecting a card processor or a meeting service, each tried before it is kept.

import * as v from "valibot"
import { refusals } from "@/core/words/refusals"
import { cardsConnected, isTrying, keepConnections, meetingConnected, readConnections } from "../connection"
import type { Context } from "../context"
import { sellingRules } from "../offer/offer"
import { httpCards, tryCards } from "../port/cards"
import { httpMeeting, tryMeeting } from "../port/meeting"
import { ok, type Refused, refusal, type Saved } from "../saved"
import { schoolRow } from "../school-view"
import { removeTestOrders } from "./test-orders"

/** Over the network an address is encrypted; on this machine it need not be. */
const address = v.pipe(
  v.string(),
  v.trim(),
  v.maxLength(300),
  v.check((text) => {
    const url = URL.parse(text)
    return url?.protocol === "https:" || (url?.protocol === "http:" && /^(localhost|127\.0\.0\.1)$/.test(url.hostname))
  }, refusals.processor.address),
  v.transform((text) => text.replace(/\/+$/, "")),
)
const secret = v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.value.empty), v.maxLength(400))

const cardsInput = v.object({
  url: address,
  key: secret,
  hookSecret: v.pipe(secret, v.startsWith("whsec_", refusals.processor.secret)),
})
const meetingInput = v.object({ url: address, key: secret })

/** Plans of real orders that go on: their cards are known to the processor that is connected, and to no other. */
async function plansGoOn(s: Context): Promise<number> {
  const going = await s.db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM plan p JOIN orders o ON o.id = p.order_id WHERE p.state IN ('running', 'behind') AND o.test = 0",
  )
  return going?.n ?? 0
}

/**
 * Tries the processor with one test card, keeps it, and takes the test orders out. While plans go on, another one than now is
 * connected only `anyway`.
 */
export async function connectCards(s: Context, typed: unknown, anyway = false): Promise<Connected> {
  const read = v.safeParse(cardsInput, typed)
  if (!read.success) return refusal(read.issues)
  const now = cardsConnected(s.config)?.of.url
  const going = now === read.output.url ? 0 : await plansGoOn(s)
  if (going && !anyway) return { refused: refusals.processor.otherCards(going), anyway: true }
  const { currency } = await sellingRules(s.db)
  const tried = await tryCards(httpCards(read.output), currency)
  if ("refused" in tried) return tried
  const removed = await s.db.transaction(async (tx) => {
    // First of all, so that whoever orders from now on isn't taken for a test.
    await tx.write("UPDATE school SET testing = 0 WHERE id = 1")
    return removeTestOrders(tx)
  }, 60_000)
  if (typeof removed !== "number") {
    await settleTesting(s)
    return removed
  }
  keepConnections(s.config, { ...readConnections(s.config), cards: read.output })
  return ok
}

export async function connectMeeting(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(meetingInput, typed)
  if (!read.success) return refusal(read.issues)
  const tried = await tryMeeting(httpMeeting(read.output))
  if ("refused" in tried) return tried
  keepConnections(s.config, { ...readConnections(s.config), meeting: read.output })
  return ok
}

/**
 * Back to the stand-in. What was charged before can't be given back until it is connected again; while plans go on, their cards are
 * known to no other processor, so it stays.
 */
export async function disconnect(s: Context, what: "cards" | "meeting"): Promise<Saved> {
  if (what === "cards") {
    const going = await plansGoOn(s)
    if (going) return { refused: refusals.processor.plansGoOn(going) }
  }
  keepConnections(s.config, { ...readConnections(s.config), [what]: null })
  await settleTesting(s)
  return ok
}

/** Tries what is connected just now. */
export async function tryConnection(s: Context, what: "cards" | "meeting"): Promise<Saved> {
  if (what === "meeting") return s.meeting ? tryMeeting(s.meeting) : { refused: refusals.webinar.noMeeting }
  const { currency } = await sellingRules(s.db)
  return s.cards ? tryCards(s.cards, currency) : { refused: refusals.refund.noProcessor }
}

/** Notes in the school whether what is ordered from now on is a test; in a demo it is what the demo shows. */
export async function settleTesting(s: Context): Promise<void> {
  await s.db.write("UPDATE school SET testing = ? WHERE id = 1", [isTrying(s.config)])
}

/** `anyway`: it is refused for what would follow, and may be asked for all the same. */
export type Connected = Saved | (Refused & { readonly anyway: true })

export type Connection = {
  readonly by: "environment" | "settings" | "stand-in"
  readonly url: string
}

/** What is connected, without its secrets. */
export function connectionsOf(s: Pick<Context, "config">): {
  readonly cards: Connection | null
  readonly meeting: Connection | null
} {
  const shown = (c: { of: { url: string }; by: Connection["by"] } | null) => c && { by: c.by, url: c.of.url }
  return { cards: shown(cardsConnected(s.config)), meeting: shown(meetingConnected(s.config)) }
}

/** Whether what is ordered now is a test. */
export async function isTesting(s: Pick<Context, "db">): Promise<boolean> {
  return Boolean((await schoolRow(s.db))?.testing)
}
