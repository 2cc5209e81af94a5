// What is kept of somebody, all of it given out and all of it gone; the books as they were; and no file that brings them back.
import { Readable } from "node:stream"
import { afterAll, beforeAll, expect, it } from "vitest"
import { doWhatIsDue } from "@/server/due-list"
import { balanceAt } from "@/server/ledger/balance"
import { erasePerson, everythingOf, ofPerson, tablesOf } from "@/server/person/erase"
import { keepImport, readImport, startImport } from "@/server/person/import"
import { buy, openShop, type Shop } from "../support/shop"

/** What stays, without what tells who it was where the books don't need that. */
const staysOfPerson = ["orders", "plan", "journey", "fact", "mail", "passkey", "affiliate", "mention"] as const

let shop: Shop
beforeAll(async () => {
  shop = await openShop("erase")
})
afterAll(() => shop.end())

it("forgets no table that says whose a row is", async () => {
  const known = new Set<string>([...ofPerson, ...staysOfPerson])
  expect((await tablesOf(shop.t.s.db)).filter((t) => !known.has(t))).toEqual([])
})

it("gives everything out, and then it is gone; orders and books stay", async () => {
  const { s } = shop.t
  const person = (await buy(shop, "fine")).order.person_id!
  await doWhatIsDue(s, "w")
  const email = (await s.db.row<{ email: string }>("SELECT email FROM person WHERE id = ?", [person]))!.email
  const all = (await everythingOf(s.db, person))!
  expect(Object.keys(all)).toEqual(
    expect.arrayContaining(["person", "address", "orders", "order_line", "admission", "fact", "mail"]),
  )
  expect(JSON.stringify(all)).toContain(email)
  expect(JSON.stringify(all)).not.toMatch(/hash|token|secret/)
  const books = await balanceAt(s.db, Number.MAX_SAFE_INTEGER)
  await s.db.write("UPDATE plan SET state = 'running' WHERE person_id = ?", [person])
  const plans = await s.db.row("SELECT 1 FROM plan WHERE person_id = ?", [person])
  if (plans) {
    expect(await erasePerson(s, person)).toHaveProperty("refused")
    await s.db.write("UPDATE plan SET state = 'ended' WHERE person_id = ?", [person])
  }
  expect(await erasePerson(s, person)).toEqual({ ok: true })
  expect(await balanceAt(s.db, Number.MAX_SAFE_INTEGER)).toEqual(books)
  for (const table of ofPerson)
    expect([table, await s.db.row(`SELECT 1 FROM ${table} WHERE person_id = ? LIMIT 1`, [person])]).toEqual([
      table,
      undefined,
    ])
  expect(await s.db.row("SELECT name, email FROM person WHERE id = ?", [person])).toEqual({ name: "", email: "" })
  expect(await s.db.row("SELECT 1 FROM mail WHERE to_email = ?", [email])).toBeUndefined()
  expect(await s.db.row("SELECT COUNT(*) AS n FROM orders WHERE person_id = ?", [person])).toEqual({ n: 1 })
  const kept = (await keepImport(s, "x", Readable.from([Buffer.from(`${email}\n`)]))) as { id: number }
  await startImport(s, kept.id, { roles: ["email"], tags: [], consent: "" })
  await doWhatIsDue(s, "w")
  expect(await readImport(s, kept.id)).toMatchObject({ fresh: 0, refused: 1 })
  expect(await erasePerson(s, 99_999)).toHaveProperty("refused")
  expect(await everythingOf(s.db, 99_999)).toBeUndefined()
})

it("whoever bought nothing goes whole", async () => {
  const { s } = shop.t
  const made = await s.db.write(
    "INSERT INTO person (name, email, zone, joined_at) VALUES ('N', 'n@s.example', 'UTC', NOW())",
  )
  expect(await erasePerson(s, made.id)).toEqual({ ok: true })
  expect(await s.db.row("SELECT 1 FROM person WHERE id = ?", [made.id])).toBeUndefined()
})
