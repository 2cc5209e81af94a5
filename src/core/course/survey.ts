// A survey: what is asked without being marked, how an answer is read, and what all the answers come to.
import * as v from "valibot"

const id = v.pipe(v.string(), v.regex(/^[a-z0-9]{1,16}$/))
const words = v.pipe(v.string(), v.maxLength(600))
const common = { id, asks: words, required: v.boolean() }

const item = v.variant("kind", [
  v.object({
    ...common,
    kind: v.literal("choice"),
    several: v.boolean(),
    options: v.pipe(v.array(words), v.maxLength(20)),
  }),
  /** From 1 to `most`, with a word at both ends. */
  v.object({
    ...common,
    kind: v.literal("scale"),
    most: v.pipe(v.number(), v.integer(), v.minValue(2), v.maxValue(10)),
    low: words,
    high: words,
    /** It asks what they think of the course: pages may say what it comes to. */
    rates: v.optional(v.boolean()),
  }),
  v.object({ ...common, kind: v.literal("text") }),
])

export type SurveyItem = v.InferOutput<typeof item>
export type SurveyItemKind = SurveyItem["kind"]

export const surveyItems = v.pipe(v.array(item), v.maxLength(50))

/** What was answered, by question: numbers of options, a number of the scale, or words. */
export type SurveyAnswers = Readonly<Record<string, readonly number[] | number | string>>

export const surveyAnswers: v.GenericSchema<unknown, SurveyAnswers> = v.record(
  v.string(),
  v.union([
    v.pipe(v.array(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(19))), v.maxLength(20)),
    v.pipe(v.number(), v.integer()),
    v.pipe(v.string(), v.trim(), v.maxLength(4_000)),
  ]),
)

/** What is asked: a question without words, or a choice of nothing, is left out. */
export function askedOf(items: readonly SurveyItem[]): SurveyItem[] {
  return items.filter((q) => q.asks.trim() && (q.kind !== "choice" || q.options.some((o) => o.trim())))
}

/** Answers as far as they belong to what is asked; what doesn't is left out. */
export function fitting(items: readonly SurveyItem[], answers: SurveyAnswers): SurveyAnswers {
  const kept = askedOf(items).flatMap((q): [string, SurveyAnswers[string]][] => {
    const a = Object.hasOwn(answers, q.id) ? answers[q.id]! : ""
    if (q.kind === "text") return typeof a === "string" && a ? [[q.id, a]] : []
    if (q.kind === "scale") return typeof a === "number" && a >= 1 && a <= q.most ? [[q.id, a]] : []
    if (!Array.isArray(a)) return []
    const chosen = [...new Set(a as number[])].filter((n) => q.options[n]?.trim())
    return chosen.length && (q.several || chosen.length === 1) ? [[q.id, chosen]] : []
  })
  return Object.fromEntries(kept)
}

/** The first question that must be answered and isn't; null: none. */
export function missing(items: readonly SurveyItem[], answers: SurveyAnswers): SurveyItem | null {
  return askedOf(items).find((q) => q.required && !Object.hasOwn(answers, q.id)) ?? null
}

export type SurveyResult = {
  readonly item: SurveyItem
  /** How many answered it. */
  readonly answered: number
  /** By option or step of the scale, how many chose it; several may be chosen by one. */
  readonly counts: readonly { readonly says: string; readonly n: number }[]
  /** The mean of a scale; null where nobody answered, and for the others. */
  readonly mean: number | null
  /** What was written, in the order given. */
  readonly texts: readonly string[]
}

/** What answers come to, question by question. */
export function resultsOf(items: readonly SurveyItem[], all: readonly SurveyAnswers[]): SurveyResult[] {
  return askedOf(items).map((q): SurveyResult => {
    const given = all.map((a) => fitting([q], a)[q.id]).filter((a) => a !== undefined)
    const base = { item: q, answered: given.length, counts: [], mean: null, texts: [] }
    if (q.kind === "text") return { ...base, texts: given as string[] }
    if (q.kind === "scale") {
      const steps = given as number[]
      const counts = Array.from({ length: q.most }, (_, i) => ({
        says: String(i + 1),
        n: steps.filter((n) => n === i + 1).length,
      }))
      return { ...base, counts, mean: steps.length ? steps.reduce((a, b) => a + b, 0) / steps.length : null }
    }
    const chosen = given as number[][]
    const counts = q.options.map((says, i) => ({ says, n: chosen.filter((c) => c.includes(i)).length }))
    return { ...base, counts: counts.filter((c) => c.says.trim()) }
  })
}
