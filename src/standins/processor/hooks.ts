// Webhooks of the stand-in, signed after the Standard Webhooks specification, sent again with back-off until they are
// taken, and on purpose sometimes late, twice or out of order.
import { randomBytes } from "node:crypto"
import { Webhook } from "standardwebhooks"
import type { Dispute, Payment, Store } from "./store"

/** Waits between tries, ms. */
const pauses = [500, 2_000, 10_000, 60_000, 300_000]

export type Hooks = { send(payment: Payment): void; tell(dispute: Dispute): void; stop(): void }

export function openHooks(store: Store, to: string, secret: string, show: (p: Payment) => unknown): Hooks {
  const timers = new Set<NodeJS.Timeout>()
  const held: (() => void)[] = []
  const after = (ms: number, work: () => void) => {
    const timer = setTimeout(() => {
      timers.delete(timer)
      work()
    }, ms)
    timers.add(timer)
  }
  const post = async (id: string, body: string, tries: number): Promise<void> => {
    const at = new Date()
    const taken = await fetch(to, {
      method: "POST",
      headers: {
        "content-type": "application/json",
        "webhook-id": id,
        "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
        "webhook-signature": new Webhook(secret).sign(id, at, body),
      },
      body,
      signal: AbortSignal.timeout(5_000),
    })
      .then((r) => r.ok)
      .catch(() => false)
    if (!taken && tries < pauses.length) after(pauses[tries]!, () => void post(id, body, tries + 1))
  }
  const hook = (type: string, data: unknown) => {
    const { hooks, lateMs } = store.behaviour
    if (!to || hooks === "never") return
    const id = `msg_${randomBytes(12).toString("base64url")}`
    const body = JSON.stringify({ type, timestamp: new Date().toISOString(), data })
    const go = () => void post(id, body, 0)
    if (hooks === "late") after(lateMs, go)
    else if (hooks === "out of order") {
      // Held until the next one has gone, or for a while.
      held.push(go)
      const release = () => {
        for (const h of held.splice(0).reverse()) h()
      }
      if (held.length >= 2) release()
      else after(lateMs, release)
    } else {
      go()
      if (hooks === "twice") after(200, go)
    }
  }
  return {
    send: (payment) => hook("payment.changed", show(payment)),
    tell: (dispute) => hook("payment.disputed", dispute),
    stop() {
      for (const t of timers) clearTimeout(t)
    },
  }
}
