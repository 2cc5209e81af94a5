import * as v from "valibot"
import { describe, expect, it } from "vitest"
import { type Gate, gateFor, gatesSchema, readGates, situationOf, situations, usualGates } from "./gate"

const words = (text: string): Gate => ({ kind: "words", words: text })

describe("a gate", () => {
  it("is the lesson's, or else the course's, or the school's, or the usual one, for each situation by itself", () => {
    const levels = {
      lesson: { outside: words("lesson") },
      course: { outside: words("course"), ended: words("course") },
      school: { stranger: words("school") },
    }
    const by = Object.fromEntries(situations.map((s) => [s, gateFor(s, levels).by]))
    expect(by).toEqual({ stranger: "school", outside: "lesson", ended: "course", "not-yet": null })
    for (const s of situations) expect(gateFor(s, {}).gate).toEqual(usualGates[s])
  })

  it("stands before whoever may not open something, by who they are", () => {
    expect(situationOf({ open: true, by: "admission" })).toBeNull()
    expect(situationOf({ open: false, why: "gone" })).toBeNull()
    expect(situationOf({ open: false, why: "stranger" })).toBe("stranger")
    expect(situationOf({ open: false, why: "outside" })).toBe("outside")
    expect(situationOf({ open: false, why: "ended", at: 1 })).toBe("ended")
    expect(situationOf({ open: false, why: "not-yet", at: 1, because: { kind: "date" } })).toBe("not-yet")
  })

  it("is read as it was stored, and what can't be read is as if nobody had chosen", () => {
    const gates = { outside: { kind: "step", step: 3 }, stranger: { kind: "sign-in" } } as const
    expect(readGates(JSON.stringify(gates))).toEqual(gates)
    expect(readGates("{}")).toEqual({})
    expect(readGates(JSON.stringify({ outside: { kind: "nowhere" } }))).toEqual({})
    expect(readGates("7")).toEqual({})
  })

  it.each([
    [{ outside: { kind: "step", step: 0 } }],
    [{ outside: { kind: "step" } }],
    [{ outside: words("x".repeat(601)) }],
    [{ outside: "sign-in" }],
    [null],
  ])("refuses %j", (typed) => expect(v.safeParse(gatesSchema, typed).success).toBe(false))
})
