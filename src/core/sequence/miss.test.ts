// Why an e-mail of a sequence was never written to somebody: worked examples (common practice).
import { describe, expect, it } from "vitest"
import type { Flow } from "./flow"
import { reachableFrom, type SequenceMiss, sequenceMissSays } from "./miss"

const day = (n: number) => Date.UTC(2026, 4, n, 12)
const question = { match: "all" as const, parts: [] }
/** Wait, then either the e-mail 1 and an end, or the e-mail 2; both sides but the end go on to the e-mail 3. */
const flow: Flow = {
  goal: null,
  steps: [
    { id: 1, kind: "wait", wait: { for: "days", days: 1, at: null } },
    {
      id: 2,
      kind: "split",
      question,
      yes: [
        { id: 3, kind: "send", mail: 1 },
        { id: 4, kind: "end" },
      ],
      no: [{ id: 5, kind: "send", mail: 2 }],
    },
    { id: 6, kind: "send", mail: 3 },
  ],
}
const miss = (more: Partial<SequenceMiss>) =>
  sequenceMissSays(
    {
      flow,
      mail: 1,
      runs: [],
      notBegun: null,
      without: null,
      says: (step) => `step ${step}`,
      ...more,
    },
    "UTC",
  ).join(" ")
const run = (step: number | null, ended: number | null = null, why: string | null = null) => [
  { begun: day(1), ended, why, step },
]

describe("the steps that somebody can still come to", () => {
  it.each<[number, number[]]>([
    [1, [1, 2, 3, 4, 5, 6]],
    [3, [3, 4]],
    [5, [5, 6]],
    [6, [6]],
    [99, []],
  ])("from %i: %j", (from, to) => expect([...reachableFrom(flow, from)].sort()).toEqual(to))
})

describe("why not", () => {
  it.each<[string, Partial<SequenceMiss>, string]>([
    ["never live", { flow: null }, "The sequence has never been live."],
    ["taken out", { mail: 9 }, "As it is live now, no step of the sequence sends it."],
    ["never begun", {}, "The sequence has never begun for them."],
    [
      "at its goal",
      { notBegun: { at: day(3), why: "they are at its goal" } },
      "It was not begun for them on 3 May 2026: they are at its goal.",
    ],
    [
      "doing without",
      { without: day(2) },
      "They do without it, and said so on 2 May 2026. The sequence has never begun for them.",
    ],
    [
      "on the way",
      { runs: run(1) },
      "It began for them on 1 May 2026, and they stand at “step 1”. This e-mail is still before them.",
    ],
    [
      "another way",
      { runs: run(5) },
      "It began for them on 1 May 2026, and they stand at “step 5”. They don’t come past this e-mail any more: they went another way, or it was put in behind them.",
    ],
    [
      "left before it",
      { runs: run(1, day(4), "left") },
      "It began for them on 1 May 2026 and ended on 4 May 2026: they unsubscribed. They stood at “step 1” then, before this e-mail.",
    ],
    [
      "over by another way",
      { runs: run(null, day(4), null) },
      "It began for them on 1 May 2026 and ended on 4 May 2026: it was over. They did not come past this e-mail: they went another way, or it was put in later.",
    ],
  ])("%s", (_, more, says) => expect(miss(more)).toBe(says))
})
