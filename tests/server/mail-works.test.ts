// What works of mail, and who is at a goal already: numbers against what was put down by hand.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Segment } from "@/core/person/segment/segment"
import { lookedBack, whatWorks } from "@/server/broadcast/overview"
import { newBroadcast } from "@/server/broadcast/store"
import { addLetter, newSequence } from "@/server/sequence/edit"
import { goalMet, isNearlyEverybody } from "@/server/sequence/goal"
import { affiliateIn } from "../support/affiliates"
import { buy, openShop, type Shop } from "../support/shop"

const day = 86_400_000
let shop: Shop
let sequence: number
let broadcast: number
let letter: number
const db = () => shop.t.s.db
beforeAll(async () => {
  shop = await openShop("mail-works")
  sequence = ((await newSequence(shop.t.s, "Follows up")) as { id: number }).id
  letter = ((await addLetter(shop.t.s, sequence)) as { id: number }).id
  broadcast = ((await newBroadcast(shop.t.s, "News")) as { id: number }).id
  await db().write("UPDATE broadcast SET state = 'sent', begins_at = ? WHERE id = ?", [
    new Date(shop.t.at() - 2 * day),
    broadcast,
  ])
})
afterAll(() => shop.end())

let mails = 0
const put = (person: number, of: "sequence" | "broadcast", at: number, more: Record<string, Date> = {}) =>
  db().write(
    "INSERT INTO mail (once, kind, state, person_id, sequence_mail_id, broadcast_id, to_email, due_at, try_at, sent_at, opened_at, clicked_at, left_at) VALUES (?, 'broadcast', 'sent', ?, ?, ?, '', ?, NOW(), ?, ?, ?, ?)",
    [
      `works:${++mails}`,
      person,
      of === "sequence" ? letter : null,
      of === "broadcast" ? broadcast : null,
      new Date(at),
      new Date(at),
      more.opened ?? null,
      more.clicked ?? null,
      more.left ?? null,
    ],
  )
const of = async (name: string) => (await whatWorks(db(), shop.t.at())).find((w) => w.name === name)

describe("what works", () => {
  it("counts e-mails, and people who bought or left, within the days it names", async () => {
    const now = shop.t.at()
    const { order } = await buy(shop, "fine")
    const buyer = order.person_id!
    const others = await Promise.all(
      [1, 2, 3].map(async (n) => {
        const id = (
          await db().write("INSERT INTO person (name, email, zone, joined_at) VALUES (?, ?, 'UTC', NOW())", [
            `R${n}`,
            `r${n}@x.example`,
          ])
        ).id
        return id
      }),
    )
    // The buyer got two of the sequence before buying: one person, two e-mails.
    await put(buyer, "sequence", now - 2 * day, { opened: new Date(now - 2 * day), clicked: new Date(now - 2 * day) })
    await put(buyer, "sequence", now - day)
    await put(others[0]!, "sequence", now - day, { opened: new Date(now), left: new Date(now) })
    // Too long ago to be counted at all, and bought too long after it.
    await put(others[1]!, "sequence", now - (lookedBack + 1) * day, { clicked: new Date(now) })
    await put(buyer, "broadcast", now - 8 * day)
    await put(others[2]!, "broadcast", now - day, { clicked: new Date(now), opened: new Date(now) })
    expect(await of("Follows up")).toEqual({
      is: "Sequence",
      id: sequence,
      name: "Follows up",
      state: "draft",
      sent: 3,
      opened: 2,
      clicked: 1,
      bought: 1,
      left: 1,
    })
    expect(await of("News")).toMatchObject({ is: "Broadcast", sent: 2, opened: 1, clicked: 1, bought: 0, left: 0 })
    // Who sells most stands first.
    expect((await whatWorks(db(), now))[0]!.name).toBe("Follows up")
  })

  it("tells sequences of one name apart, and shows those that sent nothing", async () => {
    await newSequence(shop.t.s, "Twice")
    await newSequence(shop.t.s, "Twice")
    const names = (await whatWorks(db(), shop.t.at())).map((w) => w.name)
    expect(new Set(names).size).toBe(names.length)
    expect(names.filter((n) => n.startsWith("Twice"))).toHaveLength(2)
  })
})

describe("a goal", () => {
  const bought: Segment = { match: "all", parts: [{ kind: "bought", offer: null, has: true, days: null }] }
  const notBought: Segment = { match: "all", parts: [{ kind: "bought", offer: null, has: false, days: null }] }

  it("says how many are at it already, and that nearly everybody is", async () => {
    const met = await goalMet(shop.t.s, bought)
    expect([met.met.most, met.all.most]).toEqual([1, 4])
    expect(isNearlyEverybody(met)).toBe(false)
    expect(isNearlyEverybody(await goalMet(shop.t.s, notBought))).toBe(false)
    await affiliateIn(shop, "new@x.example", "New").catch(() => 0)
    await db().write(
      "INSERT INTO person (name, email, zone, joined_at) SELECT 'N', CONCAT('n', seq, '@x.example'), 'UTC', NOW() FROM seq_1_to_10",
    )
    expect(isNearlyEverybody(await goalMet(shop.t.s, notBought))).toBe(true)
  })

  it.each([
    [8, 10, true],
    [7, 10, false],
    [0, 0, false],
  ])("%s of %s: nearly everybody, %s", (a, b, nearly) =>
    expect(isNearlyEverybody({ met: { least: a, most: a }, all: { least: b, most: b } })).toBe(nearly),
  )
})
