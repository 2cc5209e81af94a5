// A certificate: its number, and the sheet that is taken away.
import type { Look } from "../look/look"
import { colour, openSheets, type SheetFonts } from "../sheet"
import { locale } from "../words/locale"

/** Letters and digits that aren't taken for one another (Crockford's base 32, without U). */
const letters = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"

/** Sixteen letters and digits of ten random bytes: 80 bits. Throws RangeError for fewer bytes. */
export function certificateNumber(random: Uint8Array): string {
  if (random.length < 10) throw new RangeError("ten random bytes make a number")
  let bits = [...random.subarray(0, 10)].reduce((n, byte) => (n << 8n) | BigInt(byte), 0n)
  let text = ""
  for (let i = 0; i < 16; i++) {
    text = letters[Number(bits & 31n)] + text
    bits >>= 5n
  }
  return text
}

/** In groups of four, as it is read out. */
export const numberWords = (number: string) => number.replace(/(.{4})(?=.)/g, "$1-")

/** A number as somebody types it: small letters, spaces and hyphens, O for 0, I and L for 1. Null for anything else. */
export function readCertificateNumber(typed: string): string | null {
  const text = typed.toUpperCase().replace(/[\s-]/g, "").replace(/O/g, "0").replace(/[IL]/g, "1")
  return text.length === 16 && [...text].every((c) => letters.includes(c)) ? text : null
}

export type CertificateSheet = {
  readonly name: string
  readonly title: string
  readonly teacher: string
  readonly school: string
  /** Instant at which the course was done, ms. */
  readonly at: number
  /** IANA zone in which the day is told. */
  readonly zone: string
  readonly number: string
  /** Where it can be seen to be genuine. */
  readonly url: string
  readonly look: Look
}

/** Width and height of A4 on its side, points (ISO 216). */
const [width, height] = [841.89, 595.28]

/** What stands on the sheet, from above: bold or plain, at which height and size (points). */
function linesOf(c: CertificateSheet) {
  const { soft, accent, ink } = c.look.bands.plain
  const day = new Intl.DateTimeFormat(locale, { dateStyle: "long", timeZone: c.zone }).format(c.at)
  return [
    { text: c.school, y: height - 105, bold: true, size: 16, ink: soft },
    { text: "Certificate", y: height - 165, bold: true, size: 40, ink: accent },
    { text: "This is to say that", y: height - 225, bold: false, size: 15, ink: soft },
    { text: c.name, y: height - 280, bold: true, size: 36, ink },
    { text: "has done the whole of", y: height - 325, bold: false, size: 15, ink: soft },
    { text: c.title, y: height - 372, bold: true, size: 26, ink },
    { text: c.teacher ? `${day}, with ${c.teacher}` : day, y: height - 420, bold: false, size: 15, ink: soft },
    { text: `Number ${numberWords(c.number)}`, y: 78, bold: false, size: 11, ink: soft },
    { text: c.url, y: 60, bold: false, size: 10, ink: soft },
  ]
}

/** The words of the sheet, by the face in which they stand. */
export function certificateSays(c: CertificateSheet): { readonly bold: string; readonly plain: string } {
  const of = (bold: boolean) => linesOf(c).flatMap((l) => (l.bold === bold ? [l.text] : []))
  return { bold: of(true).join(" "), plain: of(false).join(" ") }
}

/** The sheet as PDF: A4 on its side, in the school's colours. */
export async function certificatePdf(c: CertificateSheet, fonts: SheetFonts): Promise<Uint8Array> {
  const { doc, line: draw } = await openSheets(fonts)
  const l = c.look.bands.plain
  const page = doc.addPage([width, height])
  page.drawRectangle({ x: 0, y: 0, width, height, color: colour(l.ground) })
  page.drawRectangle({
    x: 28,
    y: 28,
    width: width - 56,
    height: height - 56,
    borderColor: colour(l.action),
    borderWidth: 2,
  })
  for (const { text, y, ...look } of linesOf(c))
    draw(page, text, width / 2, y, { ...look, within: width - 160, align: "centre" })
  doc.setTitle(`Certificate: ${c.title}`)
  doc.setAuthor(c.school)
  doc.setCreationDate(new Date(c.at))
  return doc.save()
}
