// What preflight finds: what a visitor would suffer, where, and what mends it.

import type { Words } from "./words/en"
import type { SaidOfFinding } from "./words/findings"

export type FindingRule = keyof Words["findings"]
/** What is known of what a rule found: its sentence is made of it. */
export type FoundBy<R extends FindingRule> = Parameters<Words["findings"][R]>[0]
/** The place in the studio where it is mended, or the one act that mends it. */
export type Fix =
  | { readonly go: "page"; readonly step: number; readonly block?: string }
  | { readonly go: "wiring"; readonly step: number }
  /** `room`: which of its views; without one its lessons. */
  | { readonly go: "course"; readonly course: number; readonly room?: "opens" | "without-access" | "settings" }
  | { readonly go: "sequence"; readonly sequence: number }
  | { readonly go: "offer"; readonly offer: number }
  | { readonly go: "webinar"; readonly webinar: number }
  | { readonly go: "programme"; readonly offer: number }
  | { readonly go: "settings" | "mail" | "cards" | "legal" }
  | { readonly act: "lead-on"; readonly step: number; readonly outcome: string; readonly to: number }
  | { readonly act: "course-live"; readonly course: number }
  | { readonly act: "sequence-live"; readonly sequence: number }
  | { readonly act: "write-mail"; readonly sequence: number; readonly lesson: number }
  | { readonly act: "count-mails"; readonly sequence: number }

export type Finding = {
  readonly rule: FindingRule
  /** As its rule found it; see `sayFindings`. */
  readonly data: FoundBy<FindingRule>
  /** What stops would hurt a visitor; advice would not. */
  readonly weight: "stop" | "advice"
  /** The step it shows at on the river. */
  readonly step: number | null
  readonly where: string
  readonly fix: Fix
}
/** In words: what a visitor would suffer, and what mends it. */
export type SaidFinding = Finding & SaidOfFinding
export function sayFindings(words: Words, findings: readonly Finding[]): SaidFinding[] {
  return findings.map((f) => ({ ...f, ...(words.findings[f.rule] as (d: unknown) => SaidOfFinding)(f.data) }))
}
/** The step at which something is found. */
export type FoundAt = { readonly id: number; readonly name: string }

/** At a step, which it is said of where nothing else is (`where`). */
export function found<R extends FindingRule>(
  rule: R,
  step: FoundAt,
  data: FoundBy<R>,
  fix: Fix,
  { weight = "stop", where = step.name }: { weight?: Finding["weight"]; where?: string } = {},
): Finding {
  return { rule, data, weight, step: step.id, where, fix }
}
