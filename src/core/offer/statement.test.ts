import { describe, expect, it } from "vitest"
import { statementFrom, statementProblem } from "./statement"

describe("statement text (rules of the card trade: common practice)", () => {
  it.each([
    ["JUNIPER CROCK", null],
    ["Crock & Co, 24", null],
    ["ABCDEFGHIJKLMNOPQRSTUV", null],
    ["ABCDEFGHIJKLMNOPQRSTUVW", /At most 22/],
    ["Café", /“é”/],
    ["A<B school", /“<”/],
    ['The "Crock"', /“"”/],
    ["ABC", /At least 5/],
    ["12345", /letter/],
    ["", /At least 5/],
    ["     ", /At least 5/],
  ])("%j", (text, problem) => {
    if (problem === null) expect(statementProblem(text)).toBeNull()
    else expect(statementProblem(text)).toMatch(problem)
  })
  it.each([
    ["Juniper Crock", "JUNIPER CROCK"],
    ["Škola kvašení a nakládání zeleniny", "SKOLA KVASENI A NAKLAD"],
  ])("is taken from %j", (name, text) => {
    expect(statementFrom(name)).toBe(text)
    expect(statementProblem(text)).toBeNull()
  })
})
