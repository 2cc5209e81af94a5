// The demo of one instant, before and after eight days of what is due: the same people, money and mail as were kept in
// tests/fixtures/demo-digest.json, to the cent. Whoever changes the demo's data on purpose keeps it anew.
import { readFileSync } from "node:fs"
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
  expect(await digestOf(demo.t.s.db)).toEqual(sorted(kept.before))
})

it("walks the same", async () => {
  await demo.walk(8)
  expect(await digestOf(demo.t.s.db)).toEqual(sorted(kept.walked))
})
