// A report: what a period brought, in sentences and a table; to read, to print, and to be mailed.
import { moneyText } from "../offer/money"
import { colour, openSheets, type SheetFonts } from "../sheet"
import { locale } from "../words/locale"
import type { Paid } from "./brought"

export type ReportRow = {
  readonly name: string
  readonly visited: number
  readonly joined: number
  readonly bought: number
  /** Minor units. */
  readonly income: number
  readonly kept: number
  /** The most one may pay for a visitor; null: nobody came. */
  readonly click: number | null
  readonly cost: number | null
  readonly verdict: Paid | null
}

export type Report = {
  readonly school: string
  /** Days of the school's zone, both among them, YYYY-MM-DD. */
  readonly from: string
  readonly to: string
  /** What it is of, where it is of one funnel. */
  readonly funnel: string | null
  readonly currency: string
  /** What is to be left, basis points. */
  readonly margin: number
  readonly all: ReportRow
  /** What a visitor was worth and between what; null: nobody came. */
  readonly value: { readonly each: number; readonly low: number; readonly high: number } | null
  /** Income of as many days before, when they were as old. */
  readonly incomeBefore: number
  /** Those with most visitors first. */
  readonly sources: readonly ReportRow[]
  /** What to change first; null: nothing was bought. */
  readonly first: { readonly step: string; readonly done: string; readonly perPoint: number } | null
  /** Of the days of a forecast; null: there was none. */
  readonly forecast: { readonly within: number; readonly of: number } | null
}

const count = (n: number) => n.toLocaleString(locale)
const day = new Intl.DateTimeFormat(locale, { day: "numeric", month: "long", year: "numeric", timeZone: "UTC" })
export const reportDays = (r: Pick<Report, "from" | "to">) =>
  day.formatRange(new Date(`${r.from}T00:00:00Z`), new Date(`${r.to}T00:00:00Z`))

/** Its story: whole sentences, the first the most important. */
export function storyOf(r: Report): string[] {
  const money = (minor: number) => moneyText(Math.round(minor), r.currency)
  const { all, value, incomeBefore, first, forecast } = r
  if (all.visited === 0) return ["Nobody came for the first time on these days."]
  const story = [
    `${count(all.visited)} ${all.visited === 1 ? "person" : "people"} came, ${count(all.joined)} joined, ${count(all.bought)} bought for ${money(all.income)}.`,
  ]
  if (incomeBefore > 0) {
    const by = Math.round((all.income / incomeBefore - 1) * 100)
    story.push(
      by === 0
        ? "That is as much as the same number of days before had brought by then."
        : `That is ${count(Math.abs(by))} % ${by > 0 ? "more" : "less"} than the same number of days before had brought by then.`,
    )
  }
  if (value && all.click !== null)
    story.push(
      `A visitor was worth ${money(value.each)}, and truly somewhere between ${money(value.low)} and ${money(value.high)}. With ${count(r.margin / 100)} % left, a click may cost up to ${money(all.click)}.`,
    )
  const most = r.sources.toSorted((a, b) => b.kept - a.kept)[0]
  if (most && most.kept > 0 && r.sources.length > 1)
    story.push(`“${most.name}” brought most: ${money(most.kept)} was kept of it.`)
  for (const s of r.sources)
    if (s.cost !== null && s.verdict !== null && s.verdict !== "open")
      story.push(
        `“${s.name}” ${s.verdict === "paid" ? "paid" : "didn’t pay"}: it cost ${money(s.cost)}, and ${money(s.kept)} was kept of it.`,
      )
  if (first)
    story.push(
      `If one more of a hundred at “${first.step}” had ${first.done}, it would have been ${money(first.perPoint)} more: more than any other change of one in a hundred.`,
    )
  if (forecast && forecast.of > 0)
    story.push(`${count(forecast.within)} of ${count(forecast.of)} days lay within what was forecast of them.`)
  return story
}

/** Width and height of A4, points (ISO 216), and its margins. */
const [width, height] = [595.28, 841.89]
const [left, right] = [50, width - 50]
const ink = "#14262D"
const soft = "#55666C"

/** As PDF, as many pages as it takes. */
export async function reportPdf(r: Report, fonts: SheetFonts): Promise<Uint8Array> {
  const { doc, line, width: wide } = await openSheets(fonts)
  let page = doc.addPage([width, height])
  let y = height - 60
  const down = (by: number) => {
    y -= by
    if (y > 60) return
    page = doc.addPage([width, height])
    y = height - 60
  }
  const plain = { size: 10.5, ink } as const
  line(page, r.school, left, y, { size: 10, ink: soft, within: right - left })
  down(26)
  line(page, r.funnel ?? "All funnels", left, y, { size: 18, ink, bold: true, within: right - left })
  down(20)
  line(page, reportDays(r), left, y, { size: 11, ink: soft })
  down(30)
  for (const sentence of storyOf(r)) {
    let row = ""
    for (const word of sentence.split(" ")) {
      const longer = row ? `${row} ${word}` : word
      if (row && wide(longer, plain) > right - left) {
        line(page, row, left, y, plain)
        down(15)
        row = word
      } else row = longer
    }
    line(page, row, left, y, { ...plain, within: right - left })
    down(21)
  }
  down(12)
  const columns: readonly (readonly [string, (s: ReportRow) => string, number])[] = [
    ["Visited", (s) => count(s.visited), left + 200],
    ["Joined", (s) => count(s.joined), left + 245],
    ["Bought", (s) => count(s.bought), left + 290],
    ["Income", (s) => moneyText(s.income, r.currency), left + 360],
    ["Most for a click", (s) => (s.click === null ? "" : moneyText(s.click, r.currency)), left + 430],
    ["Cost", (s) => (s.cost === null ? "" : moneyText(s.cost, r.currency)), right],
  ]
  line(page, "Source", left, y, { size: 8.5, ink: soft })
  for (const [says, , x] of columns) line(page, says, x, y, { size: 8.5, ink: soft, align: "right" })
  page.drawLine({ start: { x: left, y: y - 5 }, end: { x: right, y: y - 5 }, thickness: 0.6, color: colour("#DAD6C8") })
  down(19)
  for (const [i, s] of [...r.sources, r.all].entries()) {
    const look = { size: 9.5, ink, bold: i === r.sources.length }
    line(page, s.name, left, y, { ...look, within: 150 })
    for (const [, of, x] of columns) line(page, of(s), x, y, { ...look, align: "right" })
    down(15)
  }
  doc.setTitle(`${r.funnel ?? r.school}, ${reportDays(r)}`)
  return doc.save()
}
