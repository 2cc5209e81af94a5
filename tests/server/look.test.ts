import { afterAll, beforeAll, expect, it } from "vitest"
import { plainly } from "@/core/look/look"
import { loadFunnel } from "@/server/funnel/load"
import { drawWorn, pagesToWear } from "@/server/funnel/look-view"
import { publishFunnel, wearEverywhere } from "@/server/funnel/release"
import { readLook, saveLook, wornBefore } from "@/server/look"
import { releaseById } from "@/server/releases"
import { schoolLook } from "@/server/school-view"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
beforeAll(async () => {
  shop = await openShop("look")
})
afterAll(() => shop.end())

const live = async () => {
  const row = await shop.t.s.db.row<{ id: number }>("SELECT live_release_id AS id FROM funnel WHERE id = ?", [
    shop.funnel,
  ])
  return (await releaseById(shop.t.s.db, row!.id))!
}

it("is worn by what is published as it stands, in one step, and by nothing else of the draft", async () => {
  await publishFunnel(shop.t.s, shop.funnel, true)
  const before = await live()
  const draft = (await loadFunnel(shop.t.s.db, shop.funnel))!
  await shop.t.s.db.write("UPDATE funnel SET name = 'Not published yet' WHERE id = ?", [shop.funnel])
  const now = await readLook(shop.t.s.db)
  expect(await saveLook(shop.t.s, { ...plainly("workshop"), action: "#AA1111" }, now)).toHaveProperty("worn")
  expect(await wearEverywhere(shop.t.s)).toBe(1)
  const after = await live()
  expect(after.id).toBeGreaterThan(before.id)
  expect(after.funnel.name).toBe(draft.name)
  expect(after.pages.map((p) => p.path)).toEqual(before.pages.map((p) => p.path))
  expect(after.pages[0]!.style).toContain("--a:#AA1111")
  expect(after.pages[0]!.style).toContain("Instrument Sans")
  expect(await wearEverywhere(shop.t.s)).toBe(0)
  expect((await schoolLook(shop.t.s.db)).bands.plain.action).toBe("#AA1111")
  expect((await wornBefore(shop.t.s.db)).map((w) => w.worn)).toEqual([now])
})

it("is refused where nothing could be read, where it is none, and where another window was faster", async () => {
  const now = await readLook(shop.t.s.db)
  expect(await saveLook(shop.t.s, { ...plainly("workshop"), ground: "#6E6E6E" }, now)).toMatchObject({
    field: "ground",
  })
  expect(await saveLook(shop.t.s, { kind: "neon" }, now)).toHaveProperty("refused")
  expect(await saveLook(shop.t.s, { ...now, action: "red" }, now)).toMatchObject({ field: "action" })
  expect(await saveLook(shop.t.s, { ...now, logo: 4711 }, now)).toMatchObject({ field: "logo" })
  expect(await saveLook(shop.t.s, plainly("broadsheet"), plainly("nightfall"))).toHaveProperty("refused")
  expect(await readLook(shop.t.s.db)).toEqual(now)
})

it("is shown on the school's own pages before it is worn", async () => {
  const pages = await pagesToWear(shop.t.s.db)
  expect(pages.length).toBeGreaterThan(3)
  expect(pages[0]!.live).toBe(true)
  const html = (await drawWorn(shop.t.s, pages[0]!.step, plainly("broadsheet")))!
  expect(html).toContain("Newsreader")
  expect(html).not.toContain("<script")
  expect(await drawWorn(shop.t.s, 999_999, plainly("broadsheet"))).toBeNull()
})
