// One e-mail to many: to whom, when, with which subject.

import { Temporal } from "temporal-polyfill"
import * as v from "valibot"
import { dayRule } from "../calendar/days"
import { refsOfSegment, segmentSchema } from "../person/segment/segment"
import { type Ref, refTo } from "../reference"
import { refusals } from "../words/refusals"
import { refsOfBody } from "./body"
import { fromSchema, fromSchool } from "./from"
import { ranks } from "./sending-rules"

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const minute = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1439))
const subject = v.pipe(
  v.string(),
  v.trim(),
  v.maxLength(200, refusals.funnel.subjectLong(200)),
  v.check((t) => !/[\r\n]/.test(t), refusals.funnel.subjectLine),
)

export const broadcastSchema = v.object({
  version: v.literal(1),
  to: segmentSchema,
  /** Those who are left out all the same; null: nobody. */
  less: v.nullable(segmentSchema),
  /** One, or up to three that are tried. */
  subjects: v.pipe(v.array(subject), v.minLength(1), v.maxLength(3)),
  from: v.optional(fromSchema, fromSchool),
  /** What inboxes show after the subject; empty: the beginning of the text. */
  preview: v.pipe(v.string(), v.trim(), v.maxLength(200, refusals.value.longest(200))),
  /** Sanitised HTML with chips. */
  body: v.pipe(v.string(), v.maxLength(60_000, refusals.funnel.mailLong)),
  plain: v.optional(v.pipe(v.string(), v.maxLength(60_000, refusals.funnel.mailLong)), ""),
  button: v.pipe(v.string(), v.trim(), v.maxLength(80, refusals.funnel.buttonLong(80))),
  lesson: v.nullable(id),
  step: v.nullable(id),
  /** Null: when it is planned, at once. `where`: at that time in the school's zone, or in each reader's. */
  when: v.nullable(
    v.object({
      date: dayRule(refusals.course.date),
      at: minute,
      where: v.picklist(["school", "reader"]),
    }),
  ),
  /** The most in an hour; null: as fast as they go. */
  perHour: v.nullable(
    v.pipe(v.number(), v.integer(refusals.value.wholeNumber), v.minValue(1, refusals.value.atLeastOne)),
  ),
  /** Where several subjects are tried: on how many of a hundred, and hours until the rest gets the better one. */
  trial: v.object({
    percent: v.pipe(v.number(), v.integer(), v.minValue(5), v.maxValue(50)),
    hours: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(72)),
  }),
  /** Days after which whoever did not open it gets it once more; null: nobody does. */
  againAfter: v.nullable(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(30))),
  goes: v.picklist(ranks),
  /** Days after it that purchases are counted. */
  boughtWithin: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(60)),
})

export type Broadcast = v.InferOutput<typeof broadcastSchema>

export const newBroadcastDocument: Broadcast = {
  version: 1,
  to: { match: "all", parts: [] },
  less: null,
  subjects: [""],
  from: fromSchool,
  preview: "",
  body: "",
  plain: "",
  button: "",
  lesson: null,
  step: null,
  when: null,
  perHour: null,
  trial: { percent: 20, hours: 4 },
  againAfter: null,
  goes: "usual",
  boughtWithin: 7,
}

export function refsOfBroadcast(b: Broadcast): Ref[] {
  return [
    ...refsOfSegment(b.to),
    ...(b.less ? refsOfSegment(b.less) : []),
    ...refsOfBody(b.body),
    ...refTo("lesson", b.lesson, "leads to it"),
    ...refTo("step", b.step, "leads to it"),
  ]
}

/**
 * When readers of a zone get it, ms: at the time it says in their zone or the school's; never before `now`. A time that is past
 * is now.
 *
 * @param zone IANA zone of the reader
 * @param school IANA zone of the school
 */
export function dueIn(when: Broadcast["when"], zone: string, school: string, now: number): number {
  if (!when) return now
  const plainTime = Temporal.PlainTime.from({ hour: Math.floor(when.at / 60), minute: when.at % 60 })
  const due = Temporal.PlainDate.from(when.date).toZonedDateTime({
    timeZone: when.where === "reader" ? zone : school,
    plainTime,
  })
  return Math.max(now, due.epochMilliseconds)
}

/**
 * Which of several subjects somebody gets: the first so many of a hundred of a shuffled list try them in turn, the others
 * wait for the better one (null). `place`: theirs in the shuffled list of `of`.
 */
export function variantAt(place: number, of: number, subjects: number, percent: number): number | null {
  if (subjects < 2) return 0
  const trying = Math.max(subjects, Math.floor((of * percent) / 100))
  return place < trying ? place % subjects : null
}
