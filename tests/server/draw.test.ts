// What is drawn away from the thread that answers: once, kept, so much of one person, and no picture too large to hold.
import { readdirSync } from "node:fs"
import { join } from "node:path"
import sharp from "sharp"
import { afterAll, beforeAll, expect, it } from "vitest"
import type { CertificateSheet } from "@/core/course/certificate"
import { plainly, wear } from "@/core/look/look"
import { forgetSheets, keptSheet, TooBusy } from "@/server/draw/draw"
import { storeMedia } from "@/server/media/store"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("draw")
})
afterAll(() => t.end())

const sheet = (more: Partial<CertificateSheet> = {}): CertificateSheet => ({
  name: "Ines",
  title: "A Year",
  teacher: "Maren",
  school: "Juniper Crock",
  at: t.at(),
  zone: "Europe/Oslo",
  number: "0123456789ABCDEF",
  url: "http://localhost/learn/certificate/0123456789ABCDEF",
  look: wear(plainly("kitchen-table")),
  ...more,
})
const drawn = (who: string, number: string, more: Partial<CertificateSheet> = {}) =>
  keptSheet(t.s.config, who, "certificate", number, sheet({ number, ...more }))
const kept = (number: string) => readdirSync(join(t.s.config.dataFolder, "sheets/certificate", number))

it("a certificate that is asked for eight times at once is drawn once, kept, and drawn anew when it says something else", async () => {
  const all = await Promise.all(Array.from({ length: 8 }, () => drawn("ines", "A")))
  expect(Buffer.from(all[0]!).subarray(0, 5).toString()).toBe("%PDF-")
  for (const one of all) expect(one).toBe(all[0])
  const [first] = kept("A")
  expect(Buffer.from(await drawn("ines", "A"))).toEqual(Buffer.from(all[0]!))
  await drawn("ines", "A", { school: "Juniper & Crock" })
  expect(kept("A")).toHaveLength(1)
  expect(kept("A")).not.toEqual([first])
  await forgetSheets(t.s.config, "certificate", "A")
  expect(() => kept("A")).toThrow()
})

it("of one person so many wait at once, and another's are drawn", async () => {
  const mine = await Promise.allSettled(Array.from({ length: 8 }, (_, i) => drawn("greedy", `G${i}`)))
  const refused = mine.filter((x) => x.status === "rejected")
  expect(refused).toHaveLength(5)
  for (const r of refused) expect(r.reason).toBeInstanceOf(TooBusy)
  expect((await drawn("other", "H")).length).toBeGreaterThan(1_000)
  // A moment later there is place again.
  expect((await drawn("greedy", "G7")).length).toBeGreaterThan(1_000)
})

it("a picture of too many pixels is refused by its head, before it is decoded", async () => {
  const huge = await sharp({ create: { width: 8_000, height: 7_400, channels: 3, background: "#446655" } })
    .png()
    .toBuffer()
  expect(await storeMedia(t.s, "picture", "huge.png", huge)).toEqual({
    refused: "This picture has too many pixels: 50 million are fine. Save it smaller and try again.",
  })
  const fine = await sharp({ create: { width: 3_000, height: 2_000, channels: 3, background: "#446655" } })
    .png()
    .toBuffer()
  expect(await storeMedia(t.s, "picture", "fine.png", fine)).toHaveProperty("id")
  const row = await t.s.db.row("SELECT width, height, type FROM media WHERE name = 'fine.webp'")
  expect(row).toEqual({ width: 2400, height: 1600, type: "image/webp" })
})
