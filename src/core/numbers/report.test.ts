import { readFileSync } from "node:fs"
import { PDFDocument } from "pdf-lib"
import { describe, expect, it } from "vitest"
import { type Report, type ReportRow, reportDays, reportPdf, storyOf } from "./report"

const font = (name: string) => readFileSync(`node_modules/dejavu-fonts-ttf/ttf/${name}.ttf`)
const fonts = { plain: font("DejaVuSans"), bold: font("DejaVuSans-Bold"), other: font("DejaVuSans-Bold") }

const row = (name: string, more: Partial<ReportRow> = {}): ReportRow => ({
  name,
  visited: 100,
  joined: 40,
  bought: 2,
  income: 20_000,
  kept: 18_000,
  click: 126,
  cost: null,
  verdict: null,
  ...more,
})
const report: Report = {
  school: "Juniper Crock",
  from: "2026-11-23",
  to: "2026-11-29",
  funnel: null,
  currency: "EUR",
  margin: 3_000,
  all: row("All together", { visited: 1_000, bought: 12, income: 200_000, click: 126 }),
  value: { each: 180, low: 90, high: 270 },
  incomeBefore: 160_000,
  sources: [
    row("letters", { kept: 150_000 }),
    row("ads", { kept: 4_000, cost: 30_000, verdict: "lost" }),
    row("podcast", { kept: 9_000, cost: 1_000, verdict: "paid" }),
    row("fair", { cost: 500, verdict: "open" }),
  ],
  first: { step: "Checkout", done: "bought", perPoint: 31_000 },
  forecast: { within: 6, of: 7 },
}

describe("a report", () => {
  it("tells what came, in whole sentences with their figures", () => {
    expect(storyOf(report)).toEqual([
      "1,000 people came, 40 joined, 12 bought for €2,000.00.",
      "That is 25 % more than the same number of days before had brought by then.",
      "A visitor was worth €1.80, and truly somewhere between €0.90 and €2.70. With 30 % left, a click may cost up to €1.26.",
      "“letters” brought most: €1,500.00 was kept of it.",
      "“ads” didn’t pay: it cost €300.00, and €40.00 was kept of it.",
      "“podcast” paid: it cost €10.00, and €90.00 was kept of it.",
      "If one more of a hundred at “Checkout” had bought, it would have been €310.00 more: more than any other change of one in a hundred.",
      "6 of 7 days lay within what was forecast of them.",
    ])
    expect(reportDays(report)).toMatch(/^23\s?–\s?29 November 2026$/)
  })

  it("says of nobody that nobody came, and nothing of what isn't known", () => {
    const nobody = { ...report, all: row("All together", { visited: 0 }) }
    expect(storyOf(nobody)).toEqual(["Nobody came for the first time on these days."])
    const plain = { ...report, incomeBefore: 0, sources: [], first: null, forecast: null, value: null }
    expect(storyOf(plain)).toHaveLength(1)
    expect(storyOf({ ...plain, incomeBefore: 200_000 })[1]).toMatch(/as much as/)
  })

  it("is a PDF of as many pages as it takes, whatever names its sources have", async () => {
    const long = row("Ḷ".repeat(60))
    const pdf = await PDFDocument.load(
      await reportPdf({ ...report, sources: [...report.sources, long, row("مصدر")] }, fonts),
    )
    expect(pdf.getPageCount()).toBe(1)
    expect(pdf.getTitle()).toBe(`Juniper Crock, ${reportDays(report)}`)
    const many = await reportPdf({ ...report, sources: Array.from({ length: 60 }, (_, i) => row(`s${i}`)) }, fonts)
    expect((await PDFDocument.load(many)).getPageCount()).toBe(2)
  })
})
