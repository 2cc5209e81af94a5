// A segment: a question about people, asked of one as plain facts and of all of them as one WHERE.
import * as v from "valibot"
import type { Ref } from "../../reference"
import type { NameOf, Sql } from "./kind"
import { type Condition, conditionKinds, conditionSchema } from "./list"

/** Conditions that must all hold, or of which one is enough; `not` turns the group round. */
export type Group = { readonly match: "all" | "any"; readonly not: boolean; readonly parts: readonly Condition[] }

/** Groups and conditions that must all hold, or of which one is enough; without any it is everybody. */
export type Segment = { readonly match: "all" | "any"; readonly parts: readonly (Condition | Group)[] }

const match = v.picklist(["all", "any"])
const group: v.GenericSchema<unknown, Group> = v.object({
  match,
  not: v.boolean(),
  parts: v.pipe(v.array(conditionSchema), v.maxLength(10)),
})

export const segmentSchema: v.GenericSchema<unknown, Segment> = v.object({
  match,
  parts: v.pipe(v.array(v.union([conditionSchema, group])), v.maxLength(20)),
})

export const everybody: Segment = { match: "all", parts: [] }

export const isGroup = (part: Condition | Group): part is Group => "parts" in part

/** Every condition, in its order. */
export const conditionsOf = (s: Segment): Condition[] => s.parts.flatMap((p) => (isGroup(p) ? p.parts : [p]))

/** Folds a segment by what each condition comes to. An empty group asks for nothing: it is left out. */
export function fold<T>(
  s: Segment,
  of: (c: Condition) => T,
  join: (how: "all" | "any", parts: readonly T[]) => T,
  not: (t: T) => T,
): T {
  const parts = s.parts.flatMap((p) => {
    if (!isGroup(p)) return [of(p)]
    if (!p.parts.length) return []
    const inner = join(p.match, p.parts.map(of))
    return [p.not ? not(inner) : inner]
  })
  return join(parts.length ? s.match : "all", parts)
}

export const join = (how: "all" | "any", parts: readonly boolean[]) =>
  how === "all" ? parts.every(Boolean) : parts.some(Boolean)

/** Whether somebody of whom nothing is known is in it. */
export function isStrangerIn(s: Segment): boolean {
  return fold(
    s,
    (c) => conditionKinds[c.kind].stranger(c),
    join,
    (t) => !t,
  )
}

/** Segments that are kept by name, by their number. */
export type SavedSegments = ReadonlyMap<number, Segment>

/** The segment as a part of a WHERE over `person p`; nobody is in a saved one that isn't there, or that asks for itself. */
export function sqlOf(s: Segment, now: number, saved: SavedSegments = new Map()): Sql {
  const within = (id: number): Sql => {
    const asked = saved.get(id)
    if (!asked) return { sql: "FALSE", values: [] }
    return sqlOf(asked, now, new Map([...saved].filter(([other]) => other !== id)))
  }
  return fold<Sql>(
    s,
    (c) => conditionKinds[c.kind].sql(c, now, within),
    (how, parts) => ({
      sql: parts.length ? `(${parts.map((p) => p.sql).join(how === "all" ? " AND " : " OR ")})` : "TRUE",
      values: parts.flatMap((p) => p.values),
    }),
    (t) => ({ sql: `NOT ${t.sql}`, values: t.values }),
  )
}

/** In words that follow "people who"; empty where nothing is asked. */
export function segmentSays(s: Segment, name: NameOf): string {
  const of = (c: Condition) => conditionKinds[c.kind].says(c, name)
  const and = (how: "all" | "any", parts: readonly string[]) => parts.join(how === "all" ? " and " : " or ")
  const parts = s.parts.flatMap((p) => {
    if (!isGroup(p)) return [of(p)]
    if (!p.parts.length) return []
    const inner = and(p.match, p.parts.map(of))
    if (p.not) return [`not (${inner})`]
    return [p.parts.length > 1 && s.parts.length > 1 ? `(${inner})` : inner]
  })
  return and(s.match, parts)
}

/** Numbers of the saved segments that a segment asks for itself. */
export const segmentsIn = (s: Segment): number[] => refsOfSegment(s).flatMap((r) => (r.to === "segment" ? [r.id] : []))

export function refsOfSegment(s: Segment): Ref[] {
  return conditionsOf(s).flatMap((c) => conditionKinds[c.kind].refs(c))
}

/** The same question with one tag in place of another. */
export function withTag(s: Segment, tag: number, into: number): Segment {
  const put = (c: Condition): Condition => ("tag" in c && c.tag === tag ? { ...c, tag: into } : c)
  return { ...s, parts: s.parts.map((p) => (isGroup(p) ? { ...p, parts: p.parts.map(put) } : put(p))) }
}
