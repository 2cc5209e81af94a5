// The demo of one instant, before and after eight days of what is due: the same people, money and mail as were kept in
// tests/fixtures/demo-digest.json, to the cent. Whoever changes the demo's data on purpose keeps it anew.
import { readFileSync, writeFileSync } from "node:fs"
import { afterAll, beforeAll, expect, it } from "vitest"
import { digestOf, sorted } from "../support/digest"
import { openWalkedDemo, type WalkedDemo } from "../support/walk"

const kept = JSON.parse(readFileSync("tests/fixtures/demo-digest.json", "utf8"))

let demo: WalkedDemo
beforeAll(async () => {
  demo = await openWalkedDemo("walked", 600)
})
afterAll(() => demo.end())

it("is filled the same", async () => {
  if (process.env.KEEP) kept.before = await digestOf(demo.t.s.db)
  expect(await digestOf(demo.t.s.db)).toEqual(sorted(kept.before))
})

it("walks the same", async () => {
  await demo.walk(8)
  if (process.env.KEEP)
    writeFileSync(
      "tests/fixtures/demo-digest.json",
      `${JSON.stringify({ before: kept.before, walked: await digestOf(demo.t.s.db) }, null, 1)}\n`,
    )
  expect(await digestOf(demo.t.s.db)).toEqual(sorted(kept.walked))
})
