// What is kept in memory, what is found by its name, and what a field says where its own rule says nothing else.
import * as v from "valibot"
import "@/server/messages"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Db } from "@/server/db/pool"
import { findables } from "@/server/find-view"
import { Kept } from "@/server/kept"
import { openShop, type Shop } from "../support/shop"

const none = undefined as unknown as Db

describe("what never changes", () => {
  it("is read once, however many ask at once", async () => {
    let reads = 0
    const kept = new Kept(async (_, id) => {
      reads++
      await new Promise((r) => setTimeout(r, 5))
      return `thing ${id}`
    })
    const all = await Promise.all(Array.from({ length: 20 }, () => kept.byId(none, 7)))
    expect(new Set(all)).toEqual(new Set(["thing 7"]))
    expect(reads).toBe(1)
    kept.forget()
    await kept.byId(none, 7)
    expect(reads).toBe(2)
  })

  it("is asked for again where it wasn't there, or could not be read", async () => {
    let there: string | undefined
    let broken = true
    const kept = new Kept(async (_, id) => {
      if (id === 1) return there
      if (broken) throw new Error("away")
      return "back"
    })
    expect(await kept.byId(none, 1)).toBeUndefined()
    there = "now"
    expect(await kept.byId(none, 1)).toBe("now")
    await expect(kept.byId(none, 2)).rejects.toThrow("away")
    broken = false
    expect(await kept.byId(none, 2)).toBe("back")
  })

  it("is let go of, the longest kept first, so that memory doesn't grow", async () => {
    const read: number[] = []
    const kept = new Kept(async (_, id) => {
      read.push(id)
      return id
    })
    for (let id = 0; id < 250; id++) await kept.byId(none, id)
    read.length = 0
    await kept.byId(none, 249)
    await kept.byId(none, 60)
    expect(read).toEqual([])
    await kept.byId(none, 0)
    expect(read).toEqual([0])
  })
})

describe("what has a place of its own", () => {
  let shop: Shop
  beforeAll(async () => {
    shop = await openShop("kept")
  })
  afterAll(() => shop.end())

  it("is found by its name, each once, with an address in the studio", async () => {
    const all = await findables(shop.t.s.db)
    const groups = new Set(all.map((f) => f.group))
    for (const group of ["Funnels", "Pages", "Offers", "Courses"]) expect(groups).toContain(group)
    for (const f of all) {
      expect(f.href).toMatch(/^\/studio\/[a-z/-]+\d+(\/steps\/\d+)?$/)
      expect(f.name.trim()).not.toBe("")
    }
    expect(new Set(all.map((f) => f.href)).size).toBe(all.length)
    expect(all.filter((f) => f.group === "Offers").map((f) => f.name)).toEqual(["A Year", "Clinic", "Koji"])
  })
})

describe("what a field says", () => {
  const says = (schema: v.GenericSchema, value: unknown) => {
    const read = v.safeParse(schema, value)
    return read.success ? null : read.issues[0].message
  }
  it("is never the validator's own words", () => {
    const cases: [v.GenericSchema, unknown][] = [
      [v.number(), "x"],
      [v.pipe(v.number(), v.integer()), 1.5],
      [v.string(), undefined],
      [v.string(), 7],
      [v.boolean(), "yes"],
      [v.pipe(v.number(), v.minValue(3)), 1],
      [v.pipe(v.number(), v.maxValue(3)), 9],
      [v.pipe(v.string(), v.minLength(3)), "a"],
      [v.pipe(v.string(), v.maxLength(3)), "abcd"],
      [v.pipe(v.string(), v.nonEmpty()), ""],
      [v.picklist(["a", "b"]), "c"],
      [v.literal("a"), "b"],
      [v.variant("kind", [v.object({ kind: v.literal("a") })]), { kind: "b" }],
      [v.object({ a: v.string() }), null],
      [v.pipe(v.string(), v.isoDate()), "soon"],
      [v.array(v.string()), "x"],
      [v.instance(Date), 3],
    ]
    for (const [schema, value] of cases) {
      const said = says(schema, value)!
      expect(said).toMatch(/^[A-Z].*[.!]$/)
      expect(said).not.toMatch(/Invalid|Expected|received|undefined|null|Object|"/)
    }
  })
})
