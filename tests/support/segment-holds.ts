// What each condition says of one person, written by itself: the SQL of the conditions is held against it.
import { Temporal } from "temporal-polyfill"
import { knownZone } from "@/core/calendar/zone"
import type { SurveyAnswers } from "@/core/course/survey"
import { couponKey } from "@/core/offer/coupon"
import { foldValue, numberIn } from "@/core/person/field"
import type { Comparison } from "@/core/person/segment/field"
import { day, type PlanState, type WayToPay } from "@/core/person/segment/kind"
import type { Condition } from "@/core/person/segment/list"
import { fold, join, type Segment } from "@/core/person/segment/segment"

/** What segments ask about somebody, as plain facts. */
export type Known = {
  readonly joinedAt: number
  readonly source: string
  readonly zone: string
  readonly tags: ReadonlySet<number>
  /** What is known of their fields, folded; of a choice its number. */
  readonly fields: ReadonlyMap<number, string>
  /** Courses of which they may open something now. */
  readonly courses: ReadonlySet<number>
  /** Courses for which they wait. */
  readonly waits: ReadonlySet<number>
  /** Of a course's live lessons, how many there are and how many they have done. */
  readonly lessons: ReadonlyMap<number, { readonly of: number; readonly done: number }>
  readonly done: ReadonlySet<number>
  /** Lessons they have opened. */
  readonly looked: ReadonlySet<number>
  /** What they have paid for and not been given all of it back; instants in ms. */
  readonly bought: readonly {
    readonly offer: number
    readonly at: number
    readonly how: WayToPay
    /** The coupon's code as it is compared; empty: none. */
    readonly coupon: string
  }[]
  /** What was charged, less what was given back, in minor units. */
  readonly paid: readonly { readonly currency: string; readonly amount: number; readonly at: number }[]
  readonly plans: readonly { readonly offer: number; readonly state: PlanState }[]
  /** When they last looked at a lesson; null: never. */
  readonly lastHere: number | null
  /** E-mails they got, and of which sequence; null: of none. */
  readonly got: readonly { readonly sequence: number | null; readonly at: number }[]
  /** The steps they came to. */
  readonly visited: readonly { readonly step: number; readonly at: number }[]
  /** What they answered in surveys, by question. */
  readonly surveys: readonly { readonly lesson: number; readonly block: string; readonly answers: SurveyAnswers }[]
  /** E-mails they opened, and of which sequence; null: of none. Instants in ms. */
  readonly opened: readonly { readonly sequence: number | null; readonly at: number }[]
  /** When they followed links in e-mails. */
  readonly clicked: readonly number[]
  /** Whether their address takes e-mails: neither left nor undeliverable. */
  readonly receives: boolean
  /** Whether they are an active affiliate. */
  readonly affiliate: boolean
  /** Segments that are kept by name, and that they are in. */
  readonly segments: ReadonlySet<number>
}

type Holds = {
  readonly [K in Condition["kind"]]: (c: Extract<Condition, { kind: K }>, who: Known, now: number) => boolean
}

const compared: Readonly<Record<Comparison, (known: string, value: string) => boolean>> = {
  is: (k, x) => k === foldValue(x),
  contains: (k, x) => k.includes(foldValue(x)),
  from: (k, x) => (numberIn(k) ?? Number.NaN) >= (numberIn(x) ?? 0),
  to: (k, x) => (numberIn(k) ?? Number.NaN) <= (numberIn(x) ?? 0),
  before: (k, x) => k < foldValue(x),
  after: (k, x) => k > foldValue(x),
  known: () => true,
}

const holds: Holds = {
  affiliate: (c, who) => who.affiliate === c.is,
  bought(c, who, now) {
    const since = c.days === null ? Number.NEGATIVE_INFINITY : now - c.days * day
    const so = who.bought.some(
      (b) =>
        (c.offer === null || b.offer === c.offer) &&
        b.at >= since &&
        (!c.how || b.how === c.how) &&
        (!c.coupon || b.coupon === couponKey(c.coupon)),
    )
    return so === c.has
  },
  clicked: (c, who, now) => who.clicked.some((at) => at >= now - c.days * day) === c.has,
  course: (c, who) => who.courses.has(c.course) === c.has,
  field: (c, who) => {
    const known = who.fields.get(c.field)
    return (known !== undefined && compared[c.how](known, c.value)) === c.has
  },
  got(c, who, now) {
    const since = c.days === null ? Number.NEGATIVE_INFINITY : now - c.days * day
    return who.got.some((m) => (c.sequence === null || m.sequence === c.sequence) && m.at >= since) === c.has
  },
  here: (c, who, now) => (who.lastHere !== null && who.lastHere >= now - c.days * day) === c.has,
  "joined-between"(c, who) {
    const start = (day: string, plus: number) =>
      Temporal.PlainDate.from(day).add({ days: plus }).toZonedDateTime(knownZone(c.zone, "UTC")).epochMilliseconds
    return (c.from === null || who.joinedAt >= start(c.from, 0)) && (c.to === null || who.joinedAt < start(c.to, 1))
  },
  joined: (c, who, now) => who.joinedAt >= now - c.days * day === c.within,
  lesson: (c, who) => (c.opened ? who.looked : who.done).has(c.lesson) === c.has,
  opened(c, who, now) {
    const since = c.days === null ? Number.NEGATIVE_INFINITY : now - c.days * day
    return who.opened.some((o) => (c.sequence === null || o.sequence === c.sequence) && o.at >= since) === c.has
  },
  plan: (c, who) => who.plans.some((p) => p.state === c.state && (c.offer === null || p.offer === c.offer)) === c.has,
  progress(c, who) {
    const l = who.lessons.get(c.course)
    const done = l?.of ? Math.floor((100 * l.done) / l.of) : 0
    return who.courses.has(c.course) && done >= c.from && done <= c.to
  },
  receives: (c, who) => who.receives === c.is,
  segment: (c, who) => who.segments.has(c.segment) === c.is,
  "signed-in": (c) => c.is,
  source: (c, who) => (who.source === c.source) === c.is,
  spent(c, who, now) {
    const since = c.days === null ? Number.NEGATIVE_INFINITY : now - c.days * day
    const sum = who.paid.reduce((n, p) => n + (p.currency === c.currency && p.at >= since ? p.amount : 0), 0)
    return sum >= c.least === c.has
  },
  survey(c, who) {
    const answer = who.surveys.find((s) => s.lesson === c.lesson && s.block === c.block)?.answers[c.question]
    const is = c.answer === null || answer === c.answer || (Array.isArray(answer) && answer.includes(c.answer))
    return (answer !== undefined && is) === c.has
  },
  tag: (c, who) => who.tags.has(c.tag) === c.has,
  visited(c, who, now) {
    const since = c.days === null ? Number.NEGATIVE_INFINITY : now - c.days * day
    return who.visited.some((x) => x.step === c.step && x.at >= since) === c.has
  },
  waits: (c, who) => who.waits.has(c.course) === c.has,
  zone: (c, who) => (who.zone === c.zone) === c.is,
}

/** Whether somebody is in a segment; `now` in ms. */
export function isIn(s: Segment, who: Known, now: number): boolean {
  return fold(
    s,
    (c) => (holds[c.kind] as (c: Condition, who: Known, now: number) => boolean)(c, who, now),
    join,
    (t) => !t,
  )
}
