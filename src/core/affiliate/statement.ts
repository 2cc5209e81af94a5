// A statement: what an affiliate was paid for, line by line, and at the same time the credit note for it. It names no buyer.
import { decimalOf, type Minor, moneyText } from "../offer/money"
import { rateText } from "../offer/tax"
import { colour, openSheets, type SheetFonts } from "../sheet"
import { locale } from "../words/locale"
import type { Rate } from "./programme"
import { rateWords } from "./words"

export type StatementLine = {
  /** Instant of the payment or refund, ms. */
  readonly at: number
  /** What was bought. */
  readonly what: string
  readonly base: Minor
  readonly rate: Rate | null
  /** Below zero: taken back. */
  readonly amount: Minor
  readonly kind: "earned" | "back" | "moved" | "written-off"
  readonly level: 1 | 2
}

export type Statement = {
  /** Number of the credit note. */
  readonly number: string
  readonly currency: string
  /** Day it was paid, YYYY-MM-DD. */
  readonly day: string
  readonly zone: string
  readonly from: { readonly name: string; readonly postal: string }
  readonly to: { readonly name: string; readonly postal: string; readonly taxNumber: string; readonly iban: string }
  readonly lines: readonly StatementLine[]
  readonly net: Minor
  readonly tax: Minor
  /** Hundredths of a percent. */
  readonly taxRate: number
  readonly gross: Minor
}

/** Width and height of A4, points (ISO 216), and its margins. */
const [width, height] = [595.28, 841.89]
const left = 50
const right = width - 50
const ink = "#14262D"
const soft = "#55666C"

/** What a line is, in words. */
function lineText(l: StatementLine): string {
  const second = l.level === 2 ? ", by somebody you brought" : ""
  return {
    earned: `${l.what}${second}`,
    back: `${l.what}: refunded`,
    moved: `${l.what}: counted for another`,
    "written-off": l.what,
  }[l.kind]
}

/** As PDF, as many pages as it takes. */
export async function statementPdf(s: Statement, fonts: SheetFonts): Promise<Uint8Array> {
  const { doc, line } = await openSheets(fonts)
  const dates = (timeZone: string) =>
    new Intl.DateTimeFormat(locale, { day: "2-digit", month: "short", year: "numeric", timeZone })
  const [inSchool, asWritten] = [dates(s.zone), dates("UTC")]
  let page = doc.addPage([width, height])
  let y = height - 60
  const plain = { size: 9.5, ink } as const
  const down = (by: number) => {
    y -= by
    if (y > 70) return
    page = doc.addPage([width, height])
    y = height - 60
    head()
  }
  const head = () => {
    for (const [says, x, align] of [
      ["Paid on", left, "left"],
      ["For", left + 75, "left"],
      ["From", right - 175, "right"],
      ["Rate", right - 95, "right"],
      ["Commission", right, "right"],
    ] as const)
      line(page, says, x, y, { size: 8.5, ink: soft, align })
    page.drawLine({
      start: { x: left, y: y - 5 },
      end: { x: right, y: y - 5 },
      thickness: 0.6,
      color: colour("#DAD6C8"),
    })
    y -= 20
  }
  line(page, s.from.name, left, y, { size: 13, ink, bold: true, within: 300 })
  line(page, "Credit note", right, y, { size: 13, ink, bold: true, align: "right" })
  y -= 15
  const mine = s.from.postal.split("\n").slice(0, 5)
  for (const [i, l] of [...mine, ""].entries()) {
    if (l) line(page, l, left, y - i * 12, { size: 8.5, ink: soft, within: 260 })
  }
  const facts = [`Number ${s.number}`, `Paid on ${asWritten.format(Date.parse(`${s.day}T12:00:00Z`))}`]
  for (const [i, l] of facts.entries()) line(page, l, right, y - i * 13, { ...plain, align: "right" })
  y -= Math.max(mine.length * 12, 30) + 22
  line(page, s.to.name, left, y, { size: 10.5, ink, bold: true, within: 330 })
  for (const l of [
    ...s.to.postal.split("\n").slice(0, 5),
    ...(s.to.taxNumber ? [`Tax number ${s.to.taxNumber}`] : []),
    `To the account ${s.to.iban}`,
  ]) {
    y -= 13
    if (l) line(page, l, left, y, { ...plain, within: 330 })
  }
  y -= 34
  line(page, "Commission for recommending", left, y, { size: 12, ink, bold: true })
  y -= 24
  head()
  for (const l of s.lines) {
    line(page, inSchool.format(l.at), left, y, plain)
    line(page, lineText(l), left + 75, y, { ...plain, within: 205 })
    if (l.kind === "earned") line(page, decimalOf(l.base, s.currency), right - 175, y, { ...plain, align: "right" })
    if (l.kind === "earned" && l.rate)
      line(page, rateWords(l.rate, s.currency), right - 95, y, { ...plain, align: "right" })
    line(page, decimalOf(l.amount, s.currency), right, y, { ...plain, align: "right" })
    down(15)
  }
  page.drawLine({ start: { x: left, y: y + 5 }, end: { x: right, y: y + 5 }, thickness: 0.6, color: colour("#DAD6C8") })
  down(10)
  const sums: [string, Minor][] = s.tax
    ? [
        ["Net", s.net],
        [`Tax, ${rateText(s.taxRate)}`, s.tax],
        ["Paid", s.gross],
      ]
    : [["Paid", s.gross]]
  for (const [says, amount] of sums) {
    const bold = says === "Paid"
    line(page, says, right - 130, y, { ...plain, bold, align: "right" })
    line(page, moneyText(amount, s.currency), right, y, { ...plain, bold, align: "right" })
    down(15)
  }
  if (!s.tax) line(page, "No tax is charged on this credit note.", left, y - 4, { size: 8.5, ink: soft })
  const pages = doc.getPages()
  for (const [i, p] of pages.entries())
    line(p, `${s.number} · page ${i + 1} of ${pages.length}`, width / 2, 36, { size: 8, ink: soft, align: "centre" })
  doc.setTitle(`Credit note ${s.number}`)
  doc.setAuthor(s.from.name)
  doc.setCreationDate(new Date(`${s.day}T12:00:00Z`))
  doc.setModificationDate(new Date(`${s.day}T12:00:00Z`))
  return doc.save()
}
