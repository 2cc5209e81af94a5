import { randomBytes } from "node:crypto"
import { readFileSync } from "node:fs"
import { extractText, getDocumentProxy } from "unpdf"
import { describe, expect, it } from "vitest"
import { plainly, wear } from "@/core/look/look"
import { certificateNumber, certificatePdf, numberWords, readCertificateNumber } from "./certificate"

const font = (name: string) => readFileSync(`node_modules/dejavu-fonts-ttf/ttf/${name}.ttf`)
const fonts = { plain: font("DejaVuSerif"), bold: font("DejaVuSerif-Bold"), other: font("DejaVuSans-Bold") }
const sheet = {
  name: "Łucja Zoë Мила",
  title: "A Year in Ferments",
  teacher: "Maren Solvik",
  school: "Juniper Crock",
  at: Date.parse("2026-11-25T23:30:00Z"),
  zone: "Europe/Zagreb",
  number: certificateNumber(new Uint8Array(10).fill(255)),
  url: "https://school.example/learn/certificate/ZZZZZZZZZZZZZZZZ",
  look: wear(plainly("kitchen-table")),
}

describe("a certificate", () => {
  // Read back by another library (unpdf, which is pdf.js) than the one that writes it (pdf-lib).
  it("says name, course, day and number, on one sheet of A4", async () => {
    const pdf = await certificatePdf(sheet, fonts)
    const read = await getDocumentProxy(pdf.slice())
    const { text, totalPages } = await extractText(read, { mergePages: true })
    expect(totalPages).toBe(1)
    for (const words of [
      "Łucja Zoë Мила",
      "A Year in Ferments",
      "26 November 2026, with Maren Solvik",
      "ZZZZ-ZZZZ-ZZZZ-ZZZZ",
      sheet.url,
    ])
      expect(text).toContain(words)
    const { width, height } = (await read.getPage(1)).getViewport({ scale: 1 })
    expect([Math.round(width), Math.round(height)]).toEqual([842, 595])
    expect(pdf.length).toBeLessThan(100_000)
  })
  it("keeps a very long name on the sheet", async () => {
    const pdf = await certificatePdf({ ...sheet, name: "x".repeat(120), teacher: "" }, fonts)
    expect((await extractText(await getDocumentProxy(pdf), { mergePages: true })).text).toContain("x".repeat(120))
  })
})

describe("a name of several scripts", () => {
  it("stands in the order in which it is read, with letters that the sheet's font doesn't have", async () => {
    const pdf = await certificatePdf({ ...sheet, name: "Ana مريم כהן Kos" }, fonts)
    const page = await (await getDocumentProxy(pdf)).getPage(1)
    const items = (await page.getTextContent()).items.flatMap((i) =>
      "str" in i && i.str.trim() ? [{ says: i.str.trim(), x: i.transform[4] as number }] : [],
    )
    const at = (says: RegExp) => items.find((i) => says.test(i.says))!.x
    // From left to right: Ana, then what runs from right to left with its first word at the right, then Kos.
    expect(at(/^Ana/)).toBeLessThan(at(/[\u05D0-\u05EA]/))
    expect(at(/[\u05D0-\u05EA\u0600-\u06FF\uFE70-\uFEFF]/)).toBeLessThan(at(/^Kos/))
    expect(items.some((i) => /[\u0600-\u06FF\uFE70-\uFEFF]/.test(i.says))).toBe(true)
  })
})

describe("its number", () => {
  it("is sixteen letters and digits of eighty random bits", () => {
    expect(certificateNumber(new Uint8Array(10))).toBe("0000000000000000")
    const many = new Set(Array.from({ length: 2000 }, () => certificateNumber(randomBytes(10))))
    expect(many.size).toBe(2000)
    for (const n of many) expect(n).toMatch(/^[0-9A-HJKMNP-TV-Z]{16}$/)
    expect(() => certificateNumber(new Uint8Array(9))).toThrow(RangeError)
  })
  it("is read as people type it", () => {
    const n = certificateNumber(randomBytes(10))
    expect(readCertificateNumber(` ${numberWords(n).toLowerCase()} `)).toBe(n)
    expect(readCertificateNumber("oOiIlL0000000000")).toBe("0011110000000000")
    for (const bad of ["", "123", "U000000000000000", "0".repeat(17), "000000000000000é"])
      expect(readCertificateNumber(bad)).toBeNull()
  })
})
