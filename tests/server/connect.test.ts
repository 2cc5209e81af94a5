// Connecting a card processor and a meeting service: each is tried first, and what was ordered before is taken out, with everything
// that came of it. Against two processors over HTTP.

import { statSync } from "node:fs"
import { createServer } from "node:http"
import type { AddressInfo } from "node:net"
import { join } from "node:path"
import { afterAll, beforeAll, expect, it } from "vitest"
import { refusals } from "@/core/words/refusals"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { cardsConnected, openPorts, readConnections } from "@/server/connection"
import type { Context } from "@/server/context"
import { loadFunnel } from "@/server/funnel/load"
import { readRiver, rollUp } from "@/server/funnel/rollup"
import { balanceAt, rollJournal } from "@/server/ledger/balance"
import {
  connectCards,
  connectionsOf,
  connectMeeting,
  disconnect,
  isTesting,
  settleTesting,
  tryConnection,
} from "@/server/ledger/connect"
import { acceptOffer, offeredTo } from "@/server/ledger/further"
import type { OrderRow } from "@/server/ledger/order"
import { countTestOrders } from "@/server/ledger/test-orders"
import { listOffers } from "@/server/offer/list"
import { makeOwner } from "@/server/person/account"
import { firstProgramme, saveProgramme } from "@/server/programme/programme"
import { rollTally } from "@/server/tally"
import { openMeeting } from "@/standins/meeting/server"
import { openProcessor, type Processor } from "@/standins/processor/server"
import { affiliateIn, payRules, soldBy } from "../support/affiliates"
import { testSchool } from "../support/school"
import { buy, hookSecret, openShop, type Shop } from "../support/shop"

let shop: Shop
let real: Processor
let s: Context
beforeAll(async () => {
  const every = { count: 1, unit: "month" } as const
  shop = await openShop("connect", { further: [{ kind: "instalments", upFront: 0, amount: 3_000, times: 3, every }] })
  real = await openProcessor({
    folder: join(shop.t.s.config.dataFolder, "real"),
    port: 0,
    key: "the real key",
    hookTo: "http://127.0.0.1:9/hooks",
    hookSecret,
  })
  s = {
    ...shop.t.s,
    config: {
      ...shop.t.s.config,
      mode: "own",
      standIns: { cards: { url: shop.processor.origin, key: "", hookSecret }, meeting: null },
    },
  }
})
afterAll(async () => {
  await real.close()
  await shop.end()
})

const one = async (sql: string) => Number(Object.values((await s.db.row<Record<string, unknown>>(sql))!)[0])
const settled = async () => {
  while ((await rollUp(s)) > 0);
  while ((await rollTally(s)) > 0);
  while ((await rollJournal(s, 0)) > 0);
}
/** Takes the offer after the order: in three parts, so that a plan goes on. */
async function takesInstalments(order: OrderRow): Promise<void> {
  const offered = await offeredTo(shop.t.s, order, shop.step.further)
  if ("goTo" in offered) throw new Error(offered.goTo)
  await acceptOffer(shop.t.s, order.code, shop.step.further, offered.quote.seen)
}
const ours = () => ({ url: real.origin, key: "the real key", hookSecret })

it("begins with the stand-in, and what is ordered is a test", async () => {
  await settleTesting(s)
  expect(connectionsOf(s).cards).toMatchObject({ by: "stand-in" })
  expect(openPorts(s.config).cards?.test).toBe(true)
  const { order } = await buy(shop, "fine")
  await buy(shop, "refused")
  await takesInstalments(order)
  await saveAffiliateRules(shop.t.s, payRules)
  await saveProgramme(shop.t.s, shop.offers.main, { ...firstProgramme, on: true })
  await soldBy(shop, await affiliateIn(shop, "ada@crock.example", "Ada"))
  expect(await one("SELECT COUNT(*) FROM commission")).toBeGreaterThan(0)
  await settled()
  expect(await countTestOrders(s.db)).toBe(await one("SELECT COUNT(*) FROM orders"))
  expect((await listOffers(s))[0]!.sold).toBeGreaterThan(0)
})

it("is so from the first moment of a school that is opened", async () => {
  const fresh = await testSchool("connect-fresh")
  const config = { ...fresh.s.config, mode: "own" as const, standIns: s.config.standIns }
  const opened = { school: "Reeds", name: "Ada", email: "ada@reed.example", password: "a long password here", code: "" }
  expect(await makeOwner({ ...fresh.s, config }, opened)).toHaveProperty("session")
  expect(await isTesting(fresh.s)).toBe(true)
  await fresh.end()
})

it("refuses what can't be right, and keeps nothing of it", async () => {
  for (const [wrong, field] of [
    [{ url: "cards.example" }, "url"],
    [{ url: "http://cards.example" }, "url"],
    [{ url: "javascript:alert(1)" }, "url"],
    [{ key: " " }, "key"],
    [{ hookSecret: "secret" }, "hookSecret"],
  ] as const)
    expect(await connectCards(s, { ...ours(), ...wrong })).toMatchObject({ field })
  expect(await connectCards(s, { ...ours(), key: "another" })).toMatchObject({
    refused: expect.stringContaining("key"),
  })
  expect(await connectCards(s, { ...ours(), url: "http://localhost:9" })).toHaveProperty("refused")
  // Something else is there: it is said in words, not in those of a parser.
  const page = createServer((_, r) => r.end("<p>Hello")).listen(0)
  const { port } = page.address() as AddressInfo
  expect(await connectCards(s, { ...ours(), url: `http://localhost:${port}` })).toEqual({
    refused: refusals.processor.noAnswer(refusals.processor.notOne),
  })
  page.close()
  expect(readConnections(s.config).cards).toBeNull()
  expect(await countTestOrders(s.db)).toBeGreaterThan(0)
})

it("tries with one test card, gives it back, and takes the test orders out of everything", async () => {
  const people = await one("SELECT COUNT(*) FROM person")
  expect(await connectCards(s, ours())).toEqual({ ok: true })
  const payments = [...real.store.payments.values()]
  expect(payments.map((p) => [p.amount, p.refunded])).toEqual([[100, 100]])
  await settled()
  for (const table of ["orders", "order_line", "charge", "plan", "journal", "sale", "commission"])
    expect([table, await one(`SELECT COUNT(*) FROM ${table}`)]).toEqual([table, 0])
  expect(await one("SELECT COUNT(*) FROM admission WHERE order_id IS NOT NULL")).toBe(0)
  expect(await one("SELECT COUNT(*) FROM mail WHERE order_id IS NOT NULL")).toBe(0)
  expect(await one("SELECT COUNT(*) FROM person")).toBe(people)
  expect((await balanceAt(s.db, shop.t.at() + 86_400_000)).filter((b) => b.amount !== 0)).toEqual([])
  expect((await listOffers(s)).map((o) => o.sold)).toEqual([0, 0, 0])
  expect(await one("SELECT COALESCE(SUM(n), 0) FROM tally WHERE what IN ('orders', 'sold', 'plans', 'learners')")).toBe(
    0,
  )
  const river = await readRiver(s, (await loadFunnel(s.db, shop.funnel))!, { from: 0, to: 4_102_444_800_000 }, "money")
  expect(river.steps.map((x) => x.in)).toEqual(river.steps.map(() => 0))
  // Only its owner reads the file with the keys.
  expect(statSync(join(s.config.dataFolder, "connections.json")).mode & 0o077).toBe(0)
})

it("charges there from now on, in every process that looks, and nothing of it is a test", async () => {
  const ports = openPorts(s.config)
  expect([ports.cards?.origin, ports.cards?.test]).toEqual([real.origin, false])
  const before = shop.t.s.cards
  Object.assign(shop.t.s, { cards: ports.cards })
  const { order } = await buy({ ...shop, processor: real }, "fine")
  expect(order.state).toBe("paid")
  expect(await countTestOrders(s.db)).toBe(0)
  await takesInstalments(order)
  Object.assign(shop.t.s, { cards: before })
  expect(await tryConnection({ ...s, cards: ports.cards }, "cards")).toEqual({ ok: true })
  // What the environment names comes before what is set here.
  expect(cardsConnected({ ...s.config, cards: ours() })?.by).toBe("environment")
  // Cards of plans that go on are known to no other processor.
  expect(await disconnect(s, "cards")).toEqual({ refused: refusals.processor.plansGoOn(1) })
  // Nor to another one, which is connected only if it is asked for all the same; a new key of the same is no other.
  const another = await openProcessor({
    folder: join(s.config.dataFolder, "another"),
    port: 0,
    key: "another",
    hookTo: "",
    hookSecret,
  })
  const other = { url: another.origin, key: "another", hookSecret }
  expect(await connectCards(s, other)).toEqual({ refused: refusals.processor.otherCards(1), anyway: true })
  expect(connectionsOf(s).cards?.url).toBe(real.origin)
  expect(await connectCards(s, ours())).toEqual({ ok: true })
  expect(await connectCards(s, other, true)).toEqual({ ok: true })
  expect(connectionsOf(s).cards?.url).toBe(another.origin)
  expect(await connectCards(s, ours(), true)).toEqual({ ok: true })
  await another.close()
  await s.db.write("UPDATE plan SET state = 'finished'")
  expect(await disconnect(s, "cards")).toEqual({ ok: true })
  expect(ports.cards?.test).toBe(true)
  expect(await one("SELECT testing FROM school")).toBe(1)
})

it("connects a meeting service by beginning a room and ending it", async () => {
  const service = await openMeeting(s.config.dataFolder, "a key", 0)
  const url = `http://localhost:${service.port}`
  expect(await connectMeeting(s, { url, key: "another" })).toHaveProperty("refused")
  expect(await connectMeeting(s, { url, key: "a key" })).toEqual({ ok: true })
  expect(connectionsOf(s).meeting).toEqual({ by: "settings", url })
  expect(await tryConnection({ ...s, meeting: openPorts(s.config).meeting }, "meeting")).toEqual({ ok: true })
  await disconnect(s, "meeting")
  expect(connectionsOf(s).meeting).toBeNull()
  service.server.close()
})
