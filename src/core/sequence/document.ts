// A sequence as it is kept: what it does, and its e-mails. A version of it is frozen when it is put live.
import * as v from "valibot"
import { type CourseCard, courseCardSchema } from "../course/card"
import { refsOfBody } from "../mail/body"
import { type From, fromSchema, fromSchool } from "../mail/from"
import { refsOfSegment, segmentSchema } from "../person/segment/segment"
import { type Ref, refTo } from "../reference"
import { allSteps, type Flow, type Steps } from "./flow"
import type { SequenceMail } from "./mail"
import { mailOf, type SequenceStep, sequenceStepKinds, stepsSchema, waitedDays } from "./step/list"

/** What an e-mail of a sequence says. */
export type SequenceLetter = Omit<SequenceMail, "afterDays" | "atMinute">

/** One of which nothing is written yet. */
export const emptyLetter: Omit<SequenceLetter, "id"> = {
  subject: "",
  preview: "",
  body: "",
  plain: "",
  button: "",
  lessonId: null,
  stepId: null,
}

export type SequenceDocument = {
  readonly version: 1
  readonly name: string
  /** Words of the link that unsubscribes. */
  readonly leaveLine: string
  readonly from: From
  readonly flow: Flow
  readonly mails: readonly SequenceLetter[]
  /** The courses that its e-mails speak of, as they were when it was put live. */
  readonly courses: readonly CourseCard[]
}

export const flowSchema: v.GenericSchema<unknown, Flow> = v.object({
  goal: v.nullable(segmentSchema),
  steps: stepsSchema,
})

const letter = v.object({
  id: v.number(),
  subject: v.string(),
  preview: v.optional(v.string(), ""),
  body: v.string(),
  plain: v.optional(v.string(), ""),
  button: v.string(),
  lessonId: v.nullable(v.number()),
  stepId: v.optional(v.nullable(v.number()), null),
})

const document: v.GenericSchema<unknown, SequenceDocument> = v.object({
  version: v.literal(1),
  name: v.string(),
  leaveLine: v.string(),
  from: v.optional(fromSchema, fromSchool),
  flow: flowSchema,
  mails: v.array(letter),
  courses: v.array(courseCardSchema),
})

/** Reads a stored version. Throws ValiError where it isn't one. */
export const readDocument = (json: unknown): SequenceDocument => v.parse(document, json)

/** A plain series of e-mails as steps: a wait before each that doesn't come at once. */
export function stepsOfMails(mails: readonly Pick<SequenceMail, "id" | "afterDays" | "atMinute">[]): SequenceStep[] {
  return mails.flatMap((m): SequenceStep[] => {
    const wait = { for: "days" as const, days: m.afterDays, at: m.atMinute }
    const send: SequenceStep = { id: 2 * m.id, kind: "send", mail: m.id }
    return m.afterDays === 0 && m.atMinute === null ? [send] : [{ id: 2 * m.id - 1, kind: "wait", wait }, send]
  })
}

/**
 * The e-mails in the order in which they are read, each with the days that are waited right before it (none: at once).
 * Those of both sides of a split follow one another.
 */
export function mailsInOrder(steps: Steps, letters: readonly SequenceLetter[]): SequenceMail[] {
  const all = allSteps(steps)
  return all.flatMap((s, i) => {
    const mail = letters.find((m) => m.id === mailOf(s))
    if (!mail) return []
    const before = all[i - 1] && waitedDays(all[i - 1]!)
    return [{ ...mail, ...(before ?? { afterDays: 0, atMinute: null }) }]
  })
}

export function refsOfFlow(flow: Flow): Ref[] {
  return [
    ...(flow.goal ? refsOfSegment(flow.goal) : []),
    ...allSteps(flow.steps).flatMap((s) => sequenceStepKinds[s.kind].refs(s)),
  ]
}

export const refsOfLetter = (m: SequenceLetter): Ref[] => [
  ...refsOfBody(m.body),
  ...refTo("lesson", m.lessonId, "leads to it"),
  ...refTo("step", m.stepId, "leads to it"),
]
