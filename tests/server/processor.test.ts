// The card processor stand-in over HTTP, through our own port to it.
import { mkdtempSync, rmSync } from "node:fs"
import { createServer, type Server } from "node:http"
import type { AddressInfo } from "node:net"
import { tmpdir } from "node:os"
import { join } from "node:path"
import { Webhook } from "standardwebhooks"
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest"
import { type TestCard, testCards } from "@/core/offer/card"
import {
  type CardProcessor,
  CardsRefusal,
  CardsUnreachable,
  type HookWord,
  httpCards,
  type Payment,
} from "@/server/port/cards"
import { openProcessor, type Processor, type ProcessorOptions } from "@/standins/processor/server"
import { wellBehaved } from "@/standins/processor/store"

const hookSecret = `whsec_${Buffer.from("a secret of the tests, long enough").toString("base64")}`
const folder = mkdtempSync(join(tmpdir(), "heron-cards-"))
let processor: Processor
let options: ProcessorOptions
let cards: CardProcessor
let listener: Server
const heard: { headers: Record<string, string>; body: string }[] = []
let takes = 200

beforeAll(async () => {
  listener = createServer(async (req, res) => {
    let body = ""
    for await (const chunk of req) body += chunk
    heard.push({ headers: req.headers as Record<string, string>, body })
    res.writeHead(takes).end()
  })
  await new Promise<void>((ready) => listener.listen(0, "127.0.0.1", ready))
  const hookTo = `http://127.0.0.1:${(listener.address() as AddressInfo).port}/hooks`
  options = { folder, port: 0, key: "k", hookTo, hookSecret }
  processor = await openProcessor(options)
  cards = httpCards({ url: processor.origin, key: "k", hookSecret })
})
afterEach(() => {
  processor.store.behaviour = wellBehaved
  heard.length = 0
  takes = 200
})
afterAll(async () => {
  await processor.close()
  listener.close()
  rmSync(folder, { recursive: true, force: true })
})

async function token(card: TestCard): Promise<string> {
  const answer = await fetch(`${processor.origin}/tokens`, {
    method: "POST",
    body: JSON.stringify({ number: testCards[card].number, expires: "12/39", code: "123" }),
  })
  return ((await answer.json()) as { token: string }).token
}
let keys = 0
const paymentIn = (word: HookWord | null) => {
  if (!word || !("payment" in word)) throw new Error("no payment")
  return word.payment
}
const payment = (card: string, more: Partial<Payment> = {}): Payment => ({
  key: `key-${++keys}`,
  amount: 9000,
  currency: "EUR",
  card,
  statement: "JUNIPER CROCK",
  reference: "order 1",
  returnTo: "http://localhost:4799/order/1",
  present: true,
  ...more,
})
const heardSoon = async (n: number, within = 3_000) => {
  for (let waited = 0; heard.length < n && waited < within; waited += 20) await new Promise((r) => setTimeout(r, 20))
  return heard
}

describe("a card", () => {
  it.each([
    ["fine", true, "succeeded", null],
    ["refused", true, "refused", "refused"],
    ["insufficient", true, "refused", "insufficient"],
    ["expired", true, "refused", "expired"],
    ["confirm", true, "needs-confirmation", null],
    ["later", true, "succeeded", null],
    ["later", false, "refused", "insufficient"],
  ] as const)("that is %s, buyer there: %j, is %s", async (card, present, state, reason) => {
    expect(await cards.pay(payment(await token(card), { present }))).toMatchObject({ state, reason, amount: 9000 })
  })
  it.each([
    [{ number: "7220440000000016", expires: "12/39", code: "123" }, /check its digits/],
    [{ number: "4111", expires: "12/39", code: "123" }, /check its digits/],
    [{ number: testCards.fine.number, expires: "13/39", code: "123" }, /Month and year/],
    [{ number: testCards.fine.number, expires: "12/39", code: "1" }, /Three or four/],
  ])("with %j is refused at the fields", async (typed, says) => {
    const answer = await fetch(`${processor.origin}/tokens`, { method: "POST", body: JSON.stringify(typed) })
    expect(answer.status).toBe(422)
    expect(((await answer.json()) as { error: string }).error).toMatch(says)
  })
  it("is kept, and charged later without the buyer", async () => {
    const kept = await cards.keep("keep-1", await token("fine"))
    expect(kept).toMatchObject({ card: { last4: "0015", expires: "12/39" } })
    const again = await cards.pay(payment("card" in kept ? kept.card.id : "", { present: false }))
    expect(again.state).toBe("succeeded")
    expect(await cards.keep("keep-2", await token("expired"))).toEqual({ reason: "expired" })
  })
})

describe("a key", () => {
  it("charges once, however often it is asked, and another thing under it is refused", async () => {
    const p = payment(await token("fine"))
    const [a, b] = await Promise.all([cards.pay(p), cards.pay(p)])
    expect(a.id).toBe(b.id)
    expect((await cards.ask(p.key))?.id).toBe(a.id)
    await expect(cards.pay({ ...p, amount: 1 })).rejects.toThrow(CardsRefusal)
    expect([...processor.store.payments.values()].filter((x) => x.key === p.key)).toHaveLength(1)
  })
  it("that was given up charges nothing, also when the request comes late", async () => {
    const p = payment(await token("fine"))
    expect(await cards.giveUp(p.key)).toBeNull()
    await expect(cards.pay(p)).rejects.toThrow(CardsRefusal)
    const done = payment(await token("fine"))
    await cards.pay(done)
    expect(await cards.giveUp(done.key)).toMatchObject({ state: "succeeded" })
    const asked = payment(await token("confirm"))
    await cards.pay(asked)
    expect(await cards.giveUp(asked.key)).toMatchObject({ state: "cancelled" })
  })
  it("is remembered after a restart", async () => {
    const p = payment(await token("fine"))
    const { id } = await cards.pay(p)
    await processor.close()
    processor = await openProcessor({ ...options, port: processor.port })
    expect((await cards.ask(p.key))?.id).toBe(id)
    expect((await cards.pay(p)).id).toBe(id)
  })
})

describe("a refund", () => {
  it("gives back what was paid, in parts, and no more", async () => {
    const paid = await cards.pay(payment(await token("fine")))
    const first = { key: "r1", payment: paid.id, amount: 4000 }
    expect(await cards.refund(first)).toBe(await cards.refund(first))
    await cards.refund({ key: "r2", payment: paid.id, amount: 5000 })
    await expect(cards.refund({ key: "r3", payment: paid.id, amount: 1 })).rejects.toThrow(/more than was paid/)
    expect(processor.store.payments.get(paid.id)!.refunded).toBe(9000)
  })
})

describe("bad behaviour", () => {
  it.each([
    ["with an error", 0],
    ["with an error after charging", 1],
    ["not at all", 0],
  ] as const)("answering %s leaves it unknown until asked", async (answers, charged) => {
    const p = payment(await token("fine"))
    processor.store.behaviour = { ...wellBehaved, answers }
    await expect(cards.pay(p)).rejects.toThrow(CardsUnreachable)
    processor.store.behaviour = wellBehaved
    expect((await cards.ask(p.key)) === null ? 0 : 1).toBe(charged)
  })
  it("is set on its own page", async () => {
    await fetch(`${processor.origin}/behaviour`, {
      method: "POST",
      body: new URLSearchParams({ answers: "slowly", slow: "2", hooks: "twice", late: "x" }),
    })
    expect(processor.store.behaviour).toMatchObject({ answers: "slowly", slowMs: 2000, hooks: "twice", lateMs: 10_000 })
    expect(await (await fetch(processor.origin)).text()).toContain("<option selected>slowly</option>")
  })
  it("lets nobody in without the key", async () => {
    expect((await fetch(`${processor.origin}/payments?key=x`)).status).toBe(401)
  })
})

describe("webhooks", () => {
  // The test vector that the libraries of the Standard Webhooks specification share, from memory.
  it("are signed as the specification's own vector says", () => {
    const signature = new Webhook("whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw").sign(
      "msg_p5jXN8AQM9LWM0D4loKWxJek",
      new Date(1614265330 * 1000),
      '{"test": 2432232314}',
    )
    expect(signature).toBe("v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=")
  })
  it("tell of a payment; forged, changed and old ones are refused", async () => {
    const p = payment(await token("fine"))
    await cards.pay(p)
    const [hook] = await heardSoon(1)
    expect(cards.readHook(hook!.headers, hook!.body)).toMatchObject({ payment: { key: p.key, state: "succeeded" } })
    expect(() => cards.readHook(hook!.headers, hook!.body.replace("9000", "1"))).toThrow()
    expect(() => cards.readHook({ ...hook!.headers, "webhook-signature": "v1,AAAA" }, hook!.body)).toThrow()
    expect(() => cards.readHook({}, hook!.body)).toThrow()
    const old = new Date(Date.now() - 3_600_000)
    const replayed = {
      "webhook-id": "msg_1",
      "webhook-timestamp": String(Math.floor(old.getTime() / 1000)),
      "webhook-signature": new Webhook(hookSecret).sign("msg_1", old, hook!.body),
    }
    expect(() => cards.readHook(replayed, hook!.body)).toThrow(/too old/i)
  })
  it("come twice when told to, never when told to, and again until they are taken", async () => {
    processor.store.behaviour = { ...wellBehaved, hooks: "twice" }
    await cards.pay(payment(await token("fine")))
    expect(new Set((await heardSoon(2)).map((h) => h.headers["webhook-id"])).size).toBe(1)
    heard.length = 0
    processor.store.behaviour = { ...wellBehaved, hooks: "never" }
    await cards.pay(payment(await token("fine")))
    await new Promise((r) => setTimeout(r, 300))
    expect(heard).toHaveLength(0)
    processor.store.behaviour = wellBehaved
    takes = 500
    await cards.pay(payment(await token("fine")))
    await heardSoon(1)
    takes = 200
    expect((await heardSoon(2)).length).toBeGreaterThanOrEqual(2)
  })
  it("come out of order when told to", async () => {
    processor.store.behaviour = { ...wellBehaved, hooks: "out of order" }
    const [first, second] = [payment(await token("fine")), payment(await token("fine"))]
    await cards.pay(first)
    await cards.pay(second)
    expect((await heardSoon(2)).map((h) => paymentIn(cards.readHook(h.headers, h.body)).key)).toEqual([
      second.key,
      first.key,
    ])
  })
})

it("the extra confirmation leads to the bank's page, and the word comes from the processor", async () => {
  for (const [agreed, state] of [
    ["1", "succeeded"],
    ["0", "refused"],
  ] as const) {
    const p = payment(await token("confirm"))
    const asked = await cards.pay(p)
    expect(await (await fetch(asked.confirm!)).text()).toContain("€90.00")
    const back = await fetch(asked.confirm!, {
      method: "POST",
      body: new URLSearchParams({ agreed }),
      redirect: "manual",
    })
    expect(back.headers.get("location")).toBe(p.returnTo)
    expect((await cards.ask(p.key))?.state).toBe(state)
  }
})

it("describes every call it takes in OpenAPI", async () => {
  const described = (await (await fetch(`${processor.origin}/openapi.json`)).json()) as {
    openapi: string
    paths: Record<string, Record<string, unknown>>
  }
  expect(described.openapi).toMatch(/^3\.1/)
  for (const [path, methods] of Object.entries(described.paths))
    for (const method of Object.keys(methods)) {
      const answer = await fetch(`${processor.origin}${path}`, {
        method: method.toUpperCase(),
        headers: { authorization: "Bearer k" },
        ...(method === "post" ? { body: "{}" } : {}),
      })
      expect(answer.status, `${method} ${path}`).not.toBe(404)
    }
})
