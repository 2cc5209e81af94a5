// Surveys by worked examples written out by hand (common practice).
import * as v from "valibot"
import { describe, expect, it } from "vitest"
import { askedOf, fitting, missing, resultsOf, type SurveyItem, surveyAnswers, surveyItems } from "./survey"

const jar: SurveyItem = {
  id: "q1",
  kind: "choice",
  asks: "What do you have?",
  required: true,
  several: true,
  options: ["A jar", "", "A crock"],
}
const one: SurveyItem = { ...jar, id: "q2", several: false, required: false }
const how: SurveyItem = {
  id: "q3",
  kind: "scale",
  asks: "How was it?",
  required: true,
  most: 5,
  low: "dull",
  high: "good",
}
const words: SurveyItem = { id: "q4", kind: "text", asks: "What was missing?", required: false }
const all = [jar, one, how, words]

describe("an answer", () => {
  it.each<[string, object, object]>([
    ["options that there are, each once", { q1: [2, 0, 2] }, { q1: [2, 0] }],
    ["no option without words, and none beyond the list", { q1: [1, 7] }, {}],
    ["one where one may be chosen", { q2: [0] }, { q2: [0] }],
    ["not two where one may be chosen", { q2: [0, 2] }, {}],
    ["a number within the scale", { q3: 5 }, { q3: 5 }],
    ["no number beside it", { q3: 6 }, {}],
    ["words", { q4: "Salt." }, { q4: "Salt." }],
    ["no empty words", { q4: "" }, {}],
    ["nothing of another kind", { q1: "A jar", q3: [1], q4: 3 }, {}],
    ["nothing that isn't asked", { q9: "x", constructor: "x" }, {}],
  ])("keeps %s", (_, given, kept) => {
    expect(fitting(all, given as never)).toEqual(kept)
  })

  it("is missing where it must be given", () => {
    expect(missing(all, { q1: [0] })?.id).toBe("q3")
    expect(missing(all, { q1: [0], q3: 1 })).toBeNull()
    expect(missing([{ ...how, asks: " " }], {})).toBeNull()
  })

  it("is read within its bounds", () => {
    expect(v.is(surveyAnswers, { q1: [0], q3: 2, q4: "x" })).toBe(true)
    expect(v.is(surveyAnswers, { q4: "x".repeat(4_001) })).toBe(false)
    expect(v.is(surveyAnswers, { q1: [99] })).toBe(false)
    expect(v.is(surveyItems, [{ ...how, most: 11 }])).toBe(false)
  })
})

describe("results", () => {
  it("count each choice, and say the mean of a scale", () => {
    const [first, , third, last] = resultsOf(all, [
      { q1: [0, 2], q3: 5, q4: "Salt." },
      { q1: [0], q3: 2 },
      { q3: 2, q4: "Time." },
    ])
    expect(first).toMatchObject({
      answered: 2,
      counts: [
        { says: "A jar", n: 2 },
        { says: "A crock", n: 1 },
      ],
    })
    expect(third).toMatchObject({ answered: 3, mean: 3 })
    expect(third!.counts.map((c) => c.n)).toEqual([0, 2, 0, 0, 1])
    expect(last!.texts).toEqual(["Salt.", "Time."])
  })

  it("of nobody are none", () => {
    expect(resultsOf([how], [])).toMatchObject([{ answered: 0, mean: null }])
  })

  it("leave out what was answered before the question changed", () => {
    expect(resultsOf([{ ...how, most: 3 }], [{ q3: 5 }, { q3: 3 }])).toMatchObject([{ answered: 1, mean: 3 }])
    expect(askedOf([{ ...jar, options: ["", " "] }])).toEqual([])
  })
})
