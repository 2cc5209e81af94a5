// Read back by another library (unpdf, which is pdf.js) than the one that writes it (pdf-lib).
import { readFileSync } from "node:fs"
import { extractText, getDocumentProxy } from "unpdf"
import { describe, expect, it } from "vitest"
import { type Statement, type StatementLine, statementPdf } from "./statement"

const font = (name: string) => readFileSync(`node_modules/dejavu-fonts-ttf/ttf/${name}.ttf`)
const fonts = { plain: font("DejaVuSans"), bold: font("DejaVuSans-Bold"), other: font("DejaVuSans-Bold") }
const line = (more: Partial<StatementLine> = {}): StatementLine => ({
  at: Date.parse("2026-09-03T22:30:00Z"),
  what: "A Year in Ferments",
  base: 23_200,
  rate: { kind: "percent", value: 3000 },
  amount: 6_960,
  kind: "earned",
  level: 1,
  ...more,
})
const statement = (more: Partial<Statement> = {}): Statement => ({
  number: "CN-2026-0007",
  currency: "EUR",
  day: "2026-11-02",
  zone: "Europe/Oslo",
  from: { name: "Juniper Crock", postal: "Moss Lane 1\n4870 Fevik" },
  to: { name: "Ada Fern", postal: "Fern Row 3", taxNumber: "", iban: "DE89 3704 0044 0532 0130 00" },
  lines: [
    line(),
    line({ kind: "back", amount: -2_320, base: 0, rate: null }),
    line({ level: 2, amount: 1_160, rate: null }),
  ],
  net: 5_800,
  tax: 0,
  taxRate: 0,
  gross: 5_800,
  ...more,
})
const read = async (s: Statement) => {
  const doc = await getDocumentProxy(await statementPdf(s, fonts))
  const { text, totalPages } = await extractText(doc, { mergePages: true })
  return { text: text.replace(/\s+/g, " "), totalPages }
}

describe("a statement", () => {
  it("says number, day, account, every line with its date and rate, and the sum", async () => {
    const { text, totalPages } = await read(statement())
    expect(totalPages).toBe(1)
    for (const words of [
      "Credit note",
      "CN-2026-0007",
      "02 Nov 2026",
      "DE89 3704 0044 0532 0130 00",
      // Half past ten at night in UTC is the next day in Oslo.
      "04 Sept 2026",
      "30 %",
      "232.00",
      "69.60",
      "A Year in Ferments: refunded",
      "-23.20",
      "by somebody you brought",
      "€58.00",
      "No tax is charged",
    ])
      expect(text).toContain(words)
  })
  it("says the tax where there is one", async () => {
    const { text } = await read(
      statement({ tax: 1_450, taxRate: 2500, gross: 7_250, to: { ...statement().to, taxNumber: "NO 9 MVA" } }),
    )
    for (const words of ["Tax, 25 %", "€14.50", "€72.50", "NO 9 MVA"]) expect(text).toContain(words)
    expect(text).not.toContain("No tax")
  })
  it("goes on over as many pages as it takes, each with its head and number", async () => {
    const lines = Array.from({ length: 200 }, (_, i) => line({ what: `Course ${i + 1}` }))
    const { text, totalPages } = await read(statement({ lines }))
    expect(totalPages).toBeGreaterThan(3)
    expect(text).toContain("Course 1 ")
    expect(text).toContain("Course 200")
    expect(text).toContain(`page ${totalPages} of ${totalPages}`)
  })
  it("keeps a very long name, and one of several scripts, on the sheet", async () => {
    const { text } = await read(
      statement({ to: { ...statement().to, name: "Ελένη Мила مريم" }, lines: [line({ what: "x".repeat(120) })] }),
    )
    expect(text).toContain("Ελένη Мила")
    expect(text).toContain("x".repeat(120))
  })
})
