// What there is to choose from when a question about people is built.
import { afterAll, beforeAll, expect, it } from "vitest"
import { newField } from "@/server/person/field"
import { segmentChoices } from "@/server/person/segment-view"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("segment_view")
  await openSchool(t)
})
afterAll(() => t.end())

it("has nothing of what there isn't", async () => {
  expect(await segmentChoices(t.s.db)).toMatchObject({
    fields: [],
    coupons: [],
    webinars: [],
    surveys: [],
    offers: [],
    currency: "EUR",
  })
})

it("has the questions of surveys with what can be answered, pages, coupons and fields", async () => {
  const [lesson] = await t.s.db.rows<{ id: number }>("SELECT id FROM lesson ORDER BY id")
  const survey = {
    id: "s1",
    kind: "survey",
    survey: [
      { id: "q1", kind: "choice", asks: "How sour?", required: true, several: true, options: ["Mild", " ", "Sharp"] },
      { id: "q2", kind: "scale", asks: "How was it?", required: false, most: 3, low: "bad", high: "good" },
      { id: "q3", kind: "text", asks: "What next?", required: false },
      { id: "q4", kind: "text", asks: " ", required: false },
    ],
  }
  const page = { version: 1, title: "L", blocks: [{ id: "x1", kind: "section", tone: "plain", blocks: [survey] }] }
  await t.s.db.write("UPDATE lesson SET page = ? WHERE id = ?", [JSON.stringify(page), lesson!.id])
  await t.s.db.write(
    "INSERT INTO coupon (code, code_key, given_out, kind, value, on_charges, made_at) VALUES ('GARDEN', 'GARDEN', '', 'percent', 10, 'first', NOW())",
  )
  expect(await newField(t.s, { label: "Gift?", kind: "yes-no" })).toMatchObject({ ok: true })
  const choices = await segmentChoices(t.s.db)
  expect(
    choices.surveys.map((x) => [x.lesson, x.block, x.question, x.asks, x.answers.map((a) => [a.n, a.says])]),
  ).toEqual([
    [
      lesson!.id,
      "s1",
      "q1",
      "How sour?",
      [
        [0, "Mild"],
        [2, "Sharp"],
      ],
    ],
    [
      lesson!.id,
      "s1",
      "q2",
      "How was it?",
      [
        [1, "1"],
        [2, "2"],
        [3, "3"],
      ],
    ],
    [lesson!.id, "s1", "q3", "What next?", []],
  ])
  expect(choices.coupons.map((c) => c.name)).toEqual(["GARDEN"])
  expect(choices.fields.map((f) => [f.label, f.choices.map((c) => c.says)])).toEqual([["Gift?", ["Yes", "No"]]])
  expect(choices.pages.map((p) => p.name)).toContain("First: First")
})
