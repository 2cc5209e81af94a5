// Gates: what somebody meets who may not open something. Chosen for the school, overridden by a course, overridden by a lesson.
import * as v from "valibot"
import { refusals } from "../words/refusals"
import type { MayOpen } from "./may-open"

const step = v.pipe(v.number(), v.integer(), v.minValue(1))

const gateSchema = v.variant("kind", [
  /** The live page that sells the course, or else gives it away, as it is found. */
  v.object({ kind: v.literal("found") }),
  v.object({ kind: v.literal("sign-in") }),
  v.object({ kind: v.literal("step"), step }),
  /** Words on the spot, over the curriculum with this lesson marked. */
  v.object({
    kind: v.literal("words"),
    words: v.pipe(v.string(), v.trim(), v.maxLength(600, refusals.value.longest(600))),
  }),
])

export type Gate = v.InferOutput<typeof gateSchema>

/** Who stands before a gate: not signed in, without an admission, with one that is over, or too early. */
export const situations = ["stranger", "outside", "ended", "not-yet"] as const
export type Situation = (typeof situations)[number]

/** What was chosen on one level; a situation that is missing is as the level above has it. */
export type Gates = Partial<Record<Situation, Gate>>

export const gatesSchema: v.GenericSchema<unknown, Gates> = v.partial(
  v.object({ stranger: gateSchema, outside: gateSchema, ended: gateSchema, "not-yet": gateSchema }),
) as never

/** What holds where nobody has chosen. */
export const usualGates: Readonly<Record<Situation, Gate>> = {
  stranger: { kind: "sign-in" },
  outside: { kind: "found" },
  ended: { kind: "found" },
  "not-yet": { kind: "words", words: "" },
}

/** Reads gates as stored; what can't be read is as if it weren't chosen. */
export function readGates(json: string): Gates {
  const read = v.safeParse(gatesSchema, JSON.parse(json))
  return read.success ? read.output : {}
}

/** The gate for a situation, and the level that says so, from lesson to course to school: null is nobody's choice. */
export function gateFor(
  situation: Situation,
  levels: { readonly lesson?: Gates; readonly course?: Gates; readonly school?: Gates },
): { readonly gate: Gate; readonly by: "lesson" | "course" | "school" | null } {
  for (const by of ["lesson", "course", "school"] as const) {
    const gate = levels[by]?.[situation]
    if (gate) return { gate, by }
  }
  return { gate: usualGates[situation], by: null }
}

/** Who somebody is before a gate; null for what is open or isn't there. */
export function situationOf(answer: MayOpen): Situation | null {
  if (answer.open || answer.why === "gone") return null
  return answer.why === "too-late" ? "not-yet" : answer.why
}
