// Moments that a sequence can wait for: each is read, said in words of its own, and is about something that can be named.
import * as v from "valibot"
import { describe, expect, it } from "vitest"
import { type Moment, momentAbout, momentLabels, momentSays, momentSchema, refsOfMoment } from "./moment"

const all = Object.keys(momentLabels) as Moment["of"][]
const name = (kind: string, id: number) => (id === 7 ? `the ${kind} seven` : null)

describe("a moment", () => {
  it.each(all)("%s", (of) => {
    const m = v.parse(momentSchema, { of, id: 7 })
    expect(momentSays(m, name as never)).toContain(`the ${momentAbout(of)} seven`)
    expect(momentSays(m, name as never)).toMatch(/^(the |their |“|[a-z])/)
    expect(refsOfMoment(m)).toEqual([expect.objectContaining({ id: 7 })])
    // What is gone still makes a sentence.
    expect(momentSays({ ...m, id: 8 }, name as never)).not.toMatch(/undefined|null|NaN/)
  })

  it("is told apart from every other in words", () => {
    const said = all.map((of) => momentSays({ of, id: 7 }, name as never))
    expect(new Set(said).size).toBe(all.length)
    expect(new Set(Object.values(momentLabels)).size).toBe(all.length)
  })

  it("is none of another kind, or about nothing", () => {
    for (const bad of [
      { of: "birthday", id: 7 },
      { of: "offer-ends", id: 0 },
      { of: "offer-ends", id: 1.5 },
      { of: "offer-ends", id: "7" },
      { of: "offer-ends" },
      {},
      null,
    ])
      expect(v.safeParse(momentSchema, bad).success).toBe(false)
  })
})
