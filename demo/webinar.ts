// The webinar of Juniper Crock, "Why brine goes cloudy": every second Thursday, nine dates behind and one tomorrow, with who registered, who
// came and until when, what was said, and what was bought. Through the same use cases as the studio's, and as bulk rows.
import { readFile } from "node:fs/promises"
import { join } from "node:path"
import { Temporal } from "temporal-polyfill"
import type { Funnel } from "@/core/funnel/draft"
import type { Coupon } from "@/core/offer/coupon"
import type { Context } from "@/server/context"
import type { Db } from "@/server/db/pool"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { storeMedia } from "@/server/media/store"
import { couponByCode, makeCoupon } from "@/server/offer/coupon"
import { moveDate } from "@/server/webinar/dates"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { webinarCaptions, webinarChapters } from "./videos/webinar"

const zone = "Europe/Oslo"
export const title = "Why brine goes cloudy"
/** How many dates lie behind. */
export const behind = 9
export const minutes = 60
export const offerMinute = 40

export type Sent = { readonly mail: number; readonly sequence: number; readonly subject: string }

export type DemoWebinar = {
  readonly id: number
  readonly funnel: Funnel
  readonly release: number
  readonly dates: readonly { readonly id: number; readonly starts: number }[]
  /** The e-mails that remind, a day, an hour and ten minutes before; and those for whoever was there, and for whoever wasn't. */
  readonly reminders: readonly Sent[]
  readonly offered: readonly Sent[]
  readonly replayed: readonly Sent[]
  readonly coupon: Coupon
}

export const polls = [
  {
    id: 1,
    minute: 6,
    question: "Is there a jar in your kitchen that has gone cloudy?",
    answers: ["Yes, just now", "Once, and I threw it out", "Not yet"],
  },
  { id: 2, minute: 30, question: "How much salt do you take?", answers: ["2 %", "3 %", "5 %", "I don't weigh it"] },
]

const well = <T extends object>(done: T): Exclude<T, { refused: string }> => {
  if ("refused" in done) throw new Error(String(done.refused))
  return done as Exclude<T, { refused: string }>
}

/** The first Thursday from tomorrow on. */
function nextThursday(now: number): Temporal.PlainDate {
  const tomorrow = Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).toPlainDate().add({ days: 1 })
  return tomorrow.add({ days: (4 - tomorrow.dayOfWeek + 7) % 7 })
}

/** `s`: as of a time before the first date; `now`, ms: that of the demo. */
export async function openDemoWebinar(s: Context, now: number): Promise<DemoWebinar> {
  const film = await readFile(join(process.cwd(), "demo/videos/brine.mp4"))
  const recording = well(await storeMedia(s, "video", `${title}.mp4`, film)).id
  const captions = well(await storeMedia(s, "file", `${title}.vtt`, Buffer.from(webinarCaptions()))).id
  const offer = (await s.db.row<{ id: number }>("SELECT id FROM offer WHERE public_name = 'A Year in Ferments'"))!.id
  const handout = await s.db.row<{ id: number }>(
    "SELECT id FROM media WHERE kind = 'file' AND name LIKE '%.pdf' LIMIT 1",
  )
  const code = "CLOUDY"
  const coupon = well(
    await makeCoupon(s, {
      code,
      givenOut: `webinar “${title}”`,
      kind: "percent",
      value: 1_500,
      currency: null,
      on: "all",
      offers: [offer],
      from: null,
      until: null,
      usesInAll: null,
      usesPerPerson: 1,
    }),
  ).id
  const { id } = well(await newWebinarOf(s, title))
  const next = nextThursday(now)
  const saved = await saveWebinar(s, id, {
    promise: "Tell a good cloud from a bad one, and never throw out a good jar again",
    host: "Maren Solvik",
    minutes,
    zone,
    when: {
      kind: "rule",
      rule: {
        unit: "week",
        every: 2,
        on: [4],
        nth: 1,
        at: 19 * 60,
        from: next.subtract({ weeks: 2 * behind }).toString(),
        until: null,
        except: [],
      },
    },
    seats: 120,
    offer,
    offerMinute,
    deal: { coupon, days: 3 },
    recording,
    captions,
    handout: handout?.id ?? null,
    polls,
    prepare: "Have a jar at hand, if you have one: clear or cloudy.",
    replayDays: 3,
    chapters: webinarChapters,
    attended: 60,
  })
  if (!("value" in saved)) throw new Error(JSON.stringify(saved))
  const { funnel } = well(await newFunnel(s, { goal: "fill-webinar", webinar: id }))
  await s.db.write(
    "UPDATE step SET path = REPLACE(path, 'why-brine-goes-cloudy', 'cloudy-brine') WHERE funnel_id = ?",
    [funnel],
  )
  const dates = await s.db.rows<{ id: number; starts: Date }>(
    "SELECT id, starts_at AS starts FROM webinar_date WHERE webinar_id = ? ORDER BY starts_at LIMIT ?",
    [id, behind + 1],
  )
  // Tomorrow it is, whatever today is.
  const tomorrow = next.toString() === nextDay(now) ? null : nextDay(now)
  if (tomorrow)
    well(await moveDate({ ...s, clock: { now: async () => now } }, dates[behind]!.id, { date: tomorrow, at: 1140 }))
  await s.db.write("DELETE FROM funnel_before WHERE funnel_id = ?", [funnel])
  const published = await publishFunnel(s, funnel, s.cards === null)
  if (!("release" in published)) throw new Error(published.findings.map((f) => f.suffers).join(" "))
  return {
    id,
    funnel: (await loadFunnel(s.db, funnel))!,
    release: published.release,
    dates: await Promise.all(
      dates.map(async (d) => ({
        id: d.id,
        starts: (await s.db.row<{ at: Date }>("SELECT starts_at AS at FROM webinar_date WHERE id = ?", [
          d.id,
        ]))!.at.getTime(),
      })),
    ),
    reminders: await mailsOf(s.db, "Reminders"),
    offered: await mailsOf(s.db, "Was there"),
    replayed: await mailsOf(s.db, "Replay"),
    coupon: (await couponByCode(s.db, code))!,
  }
}

const mailsOf = (db: Db, name: string) =>
  db.rows<Sent>(
    "SELECT m.id AS mail, m.sequence_id AS sequence, m.subject FROM sequence_mail m JOIN sequence q ON q.id = m.sequence_id WHERE q.name = ? ORDER BY m.id",
    [`${name}: ${title}`],
  )

const nextDay = (now: number) =>
  Temporal.Instant.fromEpochMilliseconds(now).toZonedDateTimeISO(zone).toPlainDate().add({ days: 1 }).toString()
