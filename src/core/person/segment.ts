// A segment: whom something is meant for. All of its conditions must hold; without any it is everybody.
import * as v from "valibot"
import { type Ref, refTo } from "../reference"

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const percent = v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(100))

const condition = v.variant("kind", [
  /** Is signed in, or isn't. */
  v.object({ kind: v.literal("signed-in"), is: v.boolean() }),
  v.object({ kind: v.literal("tag"), tag: id, has: v.boolean() }),
  /** May open something of the course now. */
  v.object({ kind: v.literal("course"), course: id, has: v.boolean() }),
  /** Has everything that the offer gives. */
  v.object({ kind: v.literal("offer"), offer: id, has: v.boolean() }),
  /** Has done from so many to so many percent of the course's lessons. */
  v.object({ kind: v.literal("progress"), course: id, from: percent, to: percent }),
])

export type Condition = v.InferOutput<typeof condition>
export type ConditionKind = Condition["kind"]
export type Segment = readonly Condition[]

export const segmentSchema: v.GenericSchema<unknown, Segment> = v.pipe(v.array(condition), v.maxLength(10)) as never

/** How somebody stands to what segments ask for. */
export type Standing = {
  readonly signedIn: boolean
  readonly tags: ReadonlySet<number>
  readonly courses: ReadonlySet<number>
  readonly offers: ReadonlySet<number>
  /** Percent of a course's live lessons that are done; a course that isn't theirs is missing. */
  readonly progress: ReadonlyMap<number, number>
}

export const stranger: Standing = {
  signedIn: false,
  tags: new Set(),
  courses: new Set(),
  offers: new Set(),
  progress: new Map(),
}

/** Whether somebody is in a segment. */
export function isIn(segment: Segment, s: Standing): boolean {
  return segment.every((c) => holds(c, s))
}

function holds(c: Condition, s: Standing): boolean {
  switch (c.kind) {
    case "signed-in":
      return s.signedIn === c.is
    case "tag":
      return s.tags.has(c.tag) === c.has
    case "course":
      return s.courses.has(c.course) === c.has
    case "offer":
      return s.offers.has(c.offer) === c.has
    case "progress": {
      const done = s.progress.get(c.course)
      return done !== undefined && done >= c.from && done <= c.to
    }
  }
}

export function refsOfSegment(segment: Segment): Ref[] {
  return segment.flatMap((c) => {
    const use = "asks who has it"
    if (c.kind === "tag") return refTo("tag", c.tag, use)
    if (c.kind === "offer") return refTo("offer", c.offer, use)
    return c.kind === "signed-in" ? [] : refTo("course", c.course, use)
  })
}
