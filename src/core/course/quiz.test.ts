import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { quiz as block } from "../page/block/quiz"
import { askedQuestion, mark, type Quiz, type QuizQuestion, questionGap, readNumber, shuffled } from "./quiz"

const choice = (id: string, ...options: [string, boolean][]): QuizQuestion => ({
  id,
  kind: "choice",
  asks: `Which ${id}?`,
  explains: "",
  options: options.map(([says, right]) => ({ says, right })),
})
const text = (id: string, ...answers: string[]): QuizQuestion => ({
  id,
  kind: "text",
  asks: "What?",
  explains: "",
  answers,
})
const number = (id: string, answer: number | null, tolerance = 0): QuizQuestion => ({
  id,
  kind: "number",
  asks: "How much?",
  explains: "",
  answer,
  tolerance,
})
const quiz = (questions: QuizQuestion[], passMark = 70): Quiz => ({ questions, passMark, tries: 0, shuffle: false })

// Worked by hand: one point a question, all or nothing, as is common practice where parts aren't weighed.
describe("marking", () => {
  const salt = quiz([
    choice("one", ["2 %", true], ["10 %", false], ["none", false]),
    choice("many", ["cabbage", true], ["carrot", true], ["chalk", false]),
    text("herb", "caraway", "Kümmel"),
    number("grams", 20, 0.5),
  ])
  it.each([
    ["all of it right", { one: [0], many: [1, 0], herb: " CARAWAY ", grams: "20,5" }, 4, true],
    ["three of four: 75 %", { one: [0], many: [0, 1], herb: "kummel", grams: "20.51" }, 3, true],
    ["a part of several is not right", { one: [0], many: [0], herb: "caraway", grams: "21" }, 2, false],
    ["one too many is not right", { one: [0, 1], many: [0, 1, 2], herb: "caraway", grams: "19.5" }, 2, false],
    ["nothing answered", {}, 0, false],
    ["of the wrong kind", { one: "2 %", many: "x", herb: [0], grams: [20] }, 0, false],
    ["an option that isn't there", { one: [0, 9], many: [0, 1], herb: "", grams: "" }, 1, false],
  ])("%s", (_, answers, points, passed) => {
    expect(mark(salt, answers)).toMatchObject({ points, of: 4, passed })
  })

  it("passes with the mark itself, by exact percent", () => {
    const third = quiz(
      [1, 2, 3].map((n) => number(`q${n}`, n)),
      66,
    )
    expect(mark(third, { q1: "1", q2: "2" })).toMatchObject({ points: 2, passed: true })
    expect(mark({ ...third, passMark: 67 }, { q1: "1", q2: "2" })).toMatchObject({ passed: false })
    expect(mark({ ...third, passMark: 0 }, {})).toMatchObject({ points: 0, passed: true })
    expect(mark({ ...third, passMark: 100 }, { q1: "1", q2: "2", q3: "3" })).toMatchObject({ passed: true })
  })

  it("doesn't ask what has no right answer, and costs nobody a point by it", () => {
    const gappy = quiz([
      choice("a", ["x", false], ["y", false]),
      text("b", " "),
      number("c", null),
      number("d", 0.1 + 0.2),
    ])
    expect(gappy.questions.map(questionGap)).toEqual(["no-right-answer", "no-right-answer", "no-right-answer", null])
    expect(askedQuestion(gappy).map((q) => q.id)).toEqual(["d"])
    // A decimal is what was typed, though 0.1 + 0.2 isn't 0.3 in binary (IEEE 754).
    expect(mark(gappy, { d: "0.3" })).toMatchObject({ points: 1, of: 1, passed: true })
    expect(mark(quiz([]), {})).toMatchObject({ of: 0, passed: false })
    expect(questionGap({ ...number("x", 1), asks: " " })).toBe("no-words")
  })

  it("is the same whatever order several are given in, and never more than there is", () =>
    fc.assert(
      fc.property(fc.shuffledSubarray([0, 1, 2], { minLength: 0 }), (chosen) => {
        const one = mark(salt, { many: chosen })
        expect(mark(salt, { many: [...chosen].reverse() })).toEqual(one)
        expect(one.points).toBe(chosen.length === 2 && !chosen.includes(2) ? 1 : 0)
      }),
    ))
})

describe("a number as people type it", () => {
  it.each([
    ["20", 20],
    ["20,5", 20.5],
    ["1 000", 1000],
    ["1\u202f000,5", 1000.5],
    ["1’000", 1000],
    [".5", 0.5],
    ["−3", -3],
    ["+3", 3],
    ["3.", 3],
  ])("%j is %d", (typed, is) => expect(readNumber(typed)).toBe(is))
  it.each(["", "twenty", "1.2.3", "1e3", "--1", "0x10", "∞"])("%j is none", (typed) =>
    expect(readNumber(typed)).toBeNull(),
  )
})

describe("another order", () => {
  it("has each once, is the same for a seed, and comes to every order alike", () => {
    expect(shuffled(5, 7)).toEqual(shuffled(5, 7))
    fc.assert(
      fc.property(fc.nat(30), fc.nat(), (n, seed) => {
        expect(shuffled(n, seed).sort((a, b) => a - b)).toEqual(Array.from({ length: n }, (_, i) => i))
      }),
    )
    const count = new Map<string, number>()
    for (let seed = 0; seed < 6000; seed++) {
      const key = shuffled(3, seed).join("")
      count.set(key, (count.get(key) ?? 0) + 1)
    }
    expect(count.size).toBe(6)
    // Chi-squared with five degrees of freedom: 20.5 is passed by chance once in a thousand (handbook table).
    const chi = [...count.values()].reduce((sum, n) => sum + (n - 1000) ** 2 / 1000, 0)
    expect(chi).toBeLessThan(20.5)
  })
})

describe("the block", () => {
  it("says what is still to be written", () => {
    const fresh = block.fresh("q")
    expect(block.gap(fresh)).toBe("a question of a quiz is still to be written")
    expect(block.gap({ ...fresh, questions: [] })).toBe("a quiz asks nothing")
    expect(block.gap({ ...fresh, questions: [choice("a", ["x", false])] })).toContain("no right answer")
    expect(block.gap({ ...fresh, questions: [choice("a", ["x", true])] })).toBeNull()
  })
})
