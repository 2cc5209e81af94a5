// Why a broadcast missed somebody: worked examples (common practice).
import { describe, expect, it } from "vitest"
import { type Miss, missSays } from "./miss"

const day = 86_400_000
const planned = Date.UTC(2026, 10, 10, 9)
const would: Miss = {
  planned,
  joined: planned - 90 * day,
  suppressed: null,
  consent: { given: true, at: planned - 90 * day },
  without: null,
  among: true,
  leftOut: false,
  to: "have the tag “keen”",
  less: "",
}

describe("somebody whom a broadcast missed", () => {
  it.each<[string, Partial<Miss>, string[]]>([
    [
      "joined later",
      { joined: planned + day },
      ["They joined on 11 November 2026, after it was planned on 10 November 2026."],
    ],
    ["had left", { suppressed: { why: "left", at: planned - day } }, ["They had unsubscribed on 9 November 2026."]],
    [
      "left with their consent",
      { suppressed: { why: "left", at: planned - day }, consent: { given: false, at: planned - day } },
      ["They had unsubscribed on 9 November 2026."],
    ],
    ["can't be reached", { suppressed: { why: "undeliverable", at: null } }, ["Mail to them had come back for good."]],
    ["never agreed", { consent: null }, ["They had not agreed to be written to."]],
    ["agreed later", { consent: { given: true, at: planned + 1 } }, ["They had not agreed to be written to."]],
    ["does without", { without: planned - day }, ["They do without broadcasts, and said so on 9 November 2026."]],
    [
      "is somebody else",
      { among: false },
      ["As things are now they aren’t among those it goes to: people who have the tag “keen”."],
    ],
    [
      "is left out",
      { leftOut: true, less: "have bought “A”" },
      ["As things are now they are among those it leaves out: people who have bought “A”."],
    ],
    [
      "has changed, and left since",
      { suppressed: { why: "left", at: planned + day }, without: planned + day },
      [
        "As things are now they would get it: something about them has changed since it was planned on 10 November 2026.",
      ],
    ],
  ])("%s", (_, of, says) => {
    expect(missSays({ ...would, ...of }, "Europe/Berlin")).toEqual(says)
  })

  it("is told every reason", () => {
    expect(missSays({ ...would, consent: null, among: false }, "UTC")).toHaveLength(2)
  })
})
