// A notice: words with one button, in a place of the learning area, for those it is meant for, from a day to a day.

import * as v from "valibot"
import { dayRule } from "../calendar/days"
import { isGroup, isStrangerIn, refsOfSegment, type Segment, segmentSchema } from "../person/segment/segment"
import { type Ref, refTo } from "../reference"
import { refusals } from "../words/refusals"

export const noticePlaces = ["sign-in", "shelf", "lesson"] as const
export type Place = (typeof noticePlaces)[number]

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const day = v.nullable(dayRule(refusals.course.date))

/** Where its button leads. */
const leads = v.nullable(
  v.variant("to", [
    v.object({ to: v.literal("step"), id }),
    v.object({ to: v.literal("course"), id }),
    v.object({ to: v.literal("offer"), id }),
  ]),
)

export const noticeFields = {
  place: v.picklist(noticePlaces),
  /** Beside the lessons of one course only; null: of each. */
  course: v.nullable(id),
  title: v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.value.empty), v.maxLength(160, refusals.value.longest(160))),
  body: v.pipe(v.string(), v.trim(), v.maxLength(600, refusals.value.longest(600))),
  button: v.pipe(v.string(), v.trim(), v.maxLength(60, refusals.value.longest(60))),
  leads,
  segment: segmentSchema,
  /** Days on the school's calendar, both included; null: no beginning, no end. */
  from: day,
  until: day,
  /** How often one person sees it; null: whenever they come by. Strangers can't be counted one by one. */
  most: v.nullable(v.pipe(v.number(), v.integer(refusals.value.wholeNumber), v.minValue(1, refusals.value.atLeastOne))),
  live: v.boolean(),
}

const schema = v.object(noticeFields)
export type Notice = v.InferOutput<typeof schema>

export type NoticeAsking = {
  readonly place: Place
  /** The course whose lesson is looked at; null elsewhere. */
  readonly course: number | null
  /** Today on the school's calendar, "2027-01-31". */
  readonly today: string
  /** How often this person has seen it. */
  readonly seen: number
  /** Whether they are whom it is for. */
  readonly meant: boolean
}

/** Whether somebody is shown a notice in a place. */
export function isShown(n: Notice, a: NoticeAsking): boolean {
  return (
    n.live &&
    n.place === a.place &&
    (n.course === null || n.place !== "lesson" || n.course === a.course) &&
    (n.from === null || n.from <= a.today) &&
    (n.until === null || n.until >= a.today) &&
    (n.most === null || a.seen < n.most) &&
    a.meant
  )
}

/** Why nobody can ever be shown it, or null: its days are over, or its conditions exclude each other. */
export function neverShown(n: Notice, today: string): "over" | "backwards" | "nobody" | null {
  if (n.from !== null && n.until !== null && n.until < n.from) return "backwards"
  if (n.until !== null && n.until < today) return "over"
  // Only strangers come by, or only they are meant; and the other way round.
  const strangers = n.place === "sign-in" || asksForStrangers(n.segment)
  const known = n.place === "shelf" || !isStrangerIn(n.segment)
  return strangers && known ? "nobody" : null
}

const asksForStrangers = (s: Segment) =>
  s.match === "all" && s.parts.some((p) => !isGroup(p) && "is" in p && p.kind === "signed-in" && !p.is)

export function refsOfNotice(n: Pick<Notice, "leads" | "segment">): Ref[] {
  const { leads: to } = n
  return [...(to ? refTo(to.to, to.id, "leads there") : []), ...refsOfSegment(n.segment)]
}

/** A notice's segment as stored. */
export const readNoticeSegment = (json: string): Segment => v.parse(segmentSchema, JSON.parse(json))
export const readLeads = (json: string): Notice["leads"] => v.parse(leads, JSON.parse(json))
