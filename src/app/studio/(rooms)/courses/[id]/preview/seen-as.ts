import { gateFor, readGates, situationOf } from "@/core/course/gate"
import type { Context } from "@/server/context"
import { readCourse } from "@/server/course/course"
import { schoolGates } from "@/server/course/gates"
import { courseSeenAs, type LearnCourse, type LearnLesson, type SeenAs } from "@/server/course/learn"
import { otherPerson } from "@/server/person/unite"

export type AskedAs = { readonly as?: string; readonly days?: string; readonly email?: string }

const gateWords = {
  found: "the page that leads to it",
  "sign-in": "the sign-in",
  step: "a page of a funnel",
  words: "a note above the lessons",
} as const

export type Seen = {
  readonly as: SeenAs
  readonly days: number
  readonly course: LearnCourse
  /** As whom, in words that follow "You see it as". */
  readonly who: string
  /** Why the person asked for isn't found. */
  readonly refused: string | undefined
  /** What they meet at a lesson, in words. */
  meets(lesson: LearnLesson): string
}

/** A course as whoever is asked for meets it; undefined where there is none. */
export async function seenAs(s: Context, id: number, asked: AskedAs): Promise<Seen | undefined> {
  const days = Math.min(3650, Math.max(0, Math.round(Number(asked.days) || 0)))
  const person = asked.as === "person" && asked.email ? await otherPerson(s.db, 0, asked.email) : null
  const found = person && "id" in person ? person : null
  const as: SeenAs =
    asked.as === "outside" || asked.as === "stranger"
      ? { as: asked.as }
      : found
        ? { as: "person", person: found.id }
        : { as: "learner", days }
  const course = await courseSeenAs(s, id, as)
  const stored = await readCourse(s.db, id)
  if (!course || !stored) return undefined
  const school = await schoolGates(s.db)
  const ownGates = new Map(stored.lessons.map((l) => [l.id, readGates(l.gates)]))
  const courseGates = readGates(stored.course.gates)
  return {
    as,
    days,
    course,
    who: found ? found.name || found.email : whoWords(as, days),
    refused: person && "refused" in person ? person.refused : undefined,
    meets(lesson) {
      const situation = situationOf(lesson.may)
      if (situation === null) return lesson.may.open && lesson.may.by === "taste" ? "Open: a free preview" : "Open"
      const { gate } = gateFor(situation, { lesson: ownGates.get(lesson.id), course: courseGates, school })
      const where = `meets ${gateWords[gate.kind]}`
      return situation === "not-yet" ? `${lesson.when}; until then ${where}` : `Not theirs: ${where}`
    },
  }
}

function whoWords({ as }: SeenAs, days: number): string {
  if (as === "stranger") return "somebody who isn’t signed in"
  if (as === "outside") return "somebody without it"
  return `a learner ${days === 0 ? "who has just come in" : `${days} ${days === 1 ? "day" : "days"} in`}, who has done nothing yet`
}

/** The same question about another lesson, as part of an address. */
export function askedQuery(asked: AskedAs): string {
  const query = new URLSearchParams()
  for (const name of ["as", "days", "email"] as const) if (asked[name]) query.set(name, asked[name].slice(0, 320))
  return query.size ? `?${query}` : ""
}
