// A webinar: what it is about, when it is, and how its room behaves. Times of day are those of its zone.

import * as v from "valibot"
import { dayRule } from "../calendar/days"
import { chapters } from "../course/chapters"
import { type Ref, refTo } from "../reference"
import { refusals } from "../words/refusals"
import { anyTimeSchema } from "./any-time"
import { instantAt, ruleSchema, startsOf } from "./rule"

const r = refusals.value
const whole = (least: number, most: number) =>
  v.pipe(
    v.number(r.number),
    v.integer(r.wholeNumber),
    v.minValue(least, r.atLeast(least)),
    v.maxValue(most, r.atMost(most)),
  )
const line = (most: number) => v.pipe(v.string(), v.trim(), v.maxLength(most, r.longest(most)))
const reference = v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1)))

export const dateSchema = v.object({ date: dayRule(r.missing), at: whole(0, 1439) })

const whenSchema = v.variant("kind", [
  v.object({ kind: v.literal("dates"), dates: v.pipe(v.array(dateSchema), v.maxLength(100, r.most(100))) }),
  v.object({ kind: v.literal("rule"), rule: ruleSchema }),
  v.object({ kind: v.literal("any-time"), anyTime: anyTimeSchema }),
])

/** A question with answers to choose from, asked in the room from a minute on. */
const poll = v.object({
  /** Stays its own, whatever is changed about it. */
  id: whole(1, 65_535),
  minute: whole(0, 480),
  question: v.pipe(line(200), v.nonEmpty(r.empty)),
  answers: v.pipe(
    v.array(v.pipe(line(120), v.nonEmpty(r.empty))),
    v.minLength(2, refusals.webinar.twoAnswers),
    v.maxLength(8, r.most(8)),
  ),
})
export type Poll = v.InferOutput<typeof poll>
export const pollSchema = v.pick(poll, ["question", "answers"])

export const webinarFields = {
  title: v.pipe(line(160), v.nonEmpty(r.empty)),
  promise: line(300),
  host: line(80),
  minutes: whole(5, 480),
  zone: v.pipe(v.string(), v.check(isZone, r.oneOfTheList)),
  when: whenSchema,
  /** Null: as many as come. */
  seats: v.nullable(whole(1, 100_000)),
  /** What it leads to, and the minute of it from which that stands in the room. */
  offer: reference,
  offerMinute: whole(0, 480),
  /** Null: it is held live. */
  recording: reference,
  /** Captions of the recording, WebVTT. */
  captions: v.optional(reference, null),
  /** A file for whoever is there. */
  handout: v.optional(reference, null),
  polls: v.optional(v.pipe(v.array(poll), v.maxLength(10, r.most(10))), []),
  /** What whoever has a seat pays less, and for how many days after it, to the end of the last where they are. */
  deal: v.optional(
    v.nullable(v.object({ coupon: v.pipe(v.number(), v.integer(), v.minValue(1)), days: whole(0, 60) })),
    null,
  ),
  /** Minutes before the start from which the room is open. */
  opens: whole(0, 120),
  /** Who sees what is said in the room: all, or the host alone; or nothing is said. */
  chat: v.picklist(["all", "host", "off"]),
  /** What to do before it begins, in words. */
  prepare: line(600),
  /** Days after it in which the replay is there, to the end of the last where somebody is; null: there is none. */
  replayDays: v.nullable(whole(0, 60)),
  /** What the replay plays; null: the recording of the room. */
  replay: v.optional(reference, null),
  chapters: v.optional(chapters, []),
  /** Who stayed for so many percent has attended; who stayed for fewer minutes has missed it. */
  attended: whole(1, 100),
  missed: whole(0, 60),
}

export const webinarSchema = v.object(webinarFields)
export type Webinar = v.InferOutput<typeof webinarSchema>
export type When = Webinar["when"]

function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat("en", { timeZone: zone })
    return zone.length <= 64
  } catch {
    return false
  }
}

/** What the replay plays, or null. */
export const replayOf = (w: Pick<Webinar, "replay" | "recording">): number | null => w.replay ?? w.recording

/** Before anything is said of it. */
export const newWebinar = (title: string, zone: string, host: string): Webinar => ({
  title,
  promise: "",
  host,
  minutes: 60,
  zone,
  when: { kind: "dates", dates: [] },
  seats: null,
  offer: null,
  offerMinute: 40,
  recording: null,
  captions: null,
  handout: null,
  polls: [],
  deal: null,
  opens: 15,
  chat: "all",
  prepare: "",
  replayDays: 3,
  replay: null,
  chapters: [],
  attended: 75,
  missed: 5,
})

/** How far its dates stand in a list, days ahead, and how many at most. */
export const datedAhead = { days: 400, most: 60 }

/** The instants at which it is planned from `now` on, in order; of one that begins whenever it suits there are none. */
export function plannedStarts(w: Webinar, now: number): number[] {
  if (w.when.kind === "any-time") return []
  if (w.when.kind === "rule")
    return startsOf(w.when.rule, w.zone, now, datedAhead.most).filter((at) => at <= now + datedAhead.days * 86_400_000)
  const starts = w.when.dates.map((d) => instantAt(d.date, d.at, w.zone)).filter((at) => at >= now)
  return [...new Set(starts)].sort((a, b) => a - b)
}

export function refsOfWebinar(w: Webinar): Ref[] {
  return [
    ...refTo("offer", w.offer, "leads to it"),
    ...refTo("media", w.recording, "plays it"),
    ...refTo("media", w.captions, "shows it as captions"),
    ...refTo("media", w.handout, "hands it out"),
    ...refTo("media", w.replay, "plays it as its replay"),
  ]
}
