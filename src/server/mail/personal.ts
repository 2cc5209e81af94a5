// What the personal words of an e-mail say to its reader: looked up only where the e-mail uses them.
import { Temporal } from "temporal-polyfill"
import { knownZone } from "@/core/calendar/zone"
import { type ChipValues, type ChipWord, chipAbout, chipsIn, momentOf, plainChips } from "@/core/mail/chip"
import { nameInMail } from "@/core/person/name"
import { untilWords } from "@/core/webinar/until"
import { words } from "@/core/words/en"
import { momentIn } from "@/core/words/moment"
import type { Db } from "../db/pool"
import { sentencesOf, shelfOf } from "../offer/quote"
import { fieldNames, knownOf } from "../person/field"
import type { LetterSchool } from "../port/letter"
import { seatDeadlines, seatOf } from "../webinar/until"

type Reader = {
  /** Null: nothing is known of them. */
  readonly person: number | null
  /** As a mail may say it. */
  readonly name: string
  /** IANA zone; null: the school's. */
  readonly zone: string | null
}

/**
 * The values of the chips in a letter, as of an instant (ms): `rich` are its texts with marked spans, `plain` its lines.
 */
export async function personalWords(
  db: Db,
  letter: { readonly rich: readonly string[]; readonly plain: readonly string[] },
  reader: Reader,
  school: LetterSchool,
  course: { readonly title: string; readonly teacher: string } | undefined,
  at: number,
): Promise<ChipValues> {
  const used = chipsIn(...letter.rich)
  const zone = knownZone(reader.zone ?? "", school.zone)
  return {
    "first-name": reader.name,
    course: course?.title ?? "",
    teacher: course?.teacher ?? "",
    school: school.name,
    ...(await fieldWords(db, letter.plain, used, reader.person)),
    ...(await offerWords(db, offersIn(used), zone, at)),
    ...(await seatWords(db, used, reader.person, zone, at)),
    ...Object.fromEntries(
      used.flatMap((word) => {
        const local = momentOf(word)
        return local === null ? [] : [[word, momentWords(local, school.zone, zone)]]
      }),
    ),
  }
}

/** By number and by every name that a line may call them. */
async function fieldWords(
  db: Db,
  lines: readonly string[],
  used: readonly ChipWord[],
  person: number | null,
): Promise<ChipValues> {
  const named = lines.some((line) =>
    [...line.matchAll(plainChips)].some(([, label]) => !(Object.values(words.chip) as string[]).includes(label!)),
  )
  if (!named && !used.some((word) => chipAbout(word)?.kind === "field")) return {}
  const known = person === null ? [] : await knownOf(db, person)
  const values: Record<string, string> = {}
  for (const { id, names } of await fieldNames(db)) {
    // As with a name: nobody can have us send a stranger a link of theirs in place of an answer.
    const shown = nameInMail(known.find((k) => k.field.id === id)?.shown ?? "")
    values[`field-${id}`] = shown
    for (const name of names) values[name] = shown
  }
  return values
}

const offersIn = (used: readonly ChipWord[]): number[] =>
  used.flatMap((word) => (chipAbout(word)?.kind === "offer" ? [chipAbout(word)!.id] : []))

/** What is said of offers as of an instant (ms) to somebody in a zone. */
export async function offerWords(db: Db, ids: readonly number[], zone: string, at: number): Promise<ChipValues> {
  if (!ids.length) return {}
  const shelf = await shelfOf(db)
  const values: Record<string, string> = {}
  for (const id of ids) {
    const offer = shelf.offers.get(id)
    values[`offer-${id}`] = offer?.publicName ?? ""
    values[`price-${id}`] = offer ? words.mail.ways(sentencesOf(shelf, offer, at).map((w) => w.says)) : ""
    const until = offer?.until ? momentIn(offer.until, zone) : ""
    values[`until-${id}`] = until
    // What is over is not said of an end.
    values[`ends-${id}`] = offer?.until && offer.until > at ? words.mail.ends(until) : ""
  }
  return values
}

/** Until when what belongs to their latest seat is there: the instant that the checkout and the replay keep. */
async function seatWords(
  db: Db,
  used: readonly ChipWord[],
  person: number | null,
  zone: string,
  at: number,
): Promise<ChipValues> {
  const values: Record<string, string> = {}
  const ids = new Set(used.flatMap((word) => (chipAbout(word)?.kind === "webinar" ? [chipAbout(word)!.id] : [])))
  for (const id of person === null ? [] : ids) {
    const seat = await seatOf(db, person!, id)
    if (seat === undefined) continue
    const { deal, replay } = await seatDeadlines(db, seat, at)
    values[`deal-${id}`] = deal === null ? "" : untilWords(deal, zone)
    values[`replay-${id}`] = replay === null ? "" : untilWords(replay, zone)
  }
  return values
}

/** A wall-clock time of the school, such as 2026-12-24T19:00, in words where somebody is. Empty where it is none. */
export function momentWords(local: string, from: string, zone: string): string {
  try {
    return momentIn(Temporal.PlainDateTime.from(local).toZonedDateTime(from).epochMilliseconds, zone)
  } catch {
    return ""
  }
}
