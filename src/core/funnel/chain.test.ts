import { describe, expect, it } from "vitest"
import { everybody } from "../person/segment/segment"
import type { SequenceStep } from "../sequence/step/list"
import { type ChainLink, circleIn, type EffectOf, type OccasionKey, type Wires, whatFollows } from "./chain"

const tagOn = (tag: number): EffectOf => ({ kind: "tag-on", settings: { tag } })
const tagOff = (tag: number): EffectOf => ({ kind: "tag-off", settings: { tag } })
const begin = (sequence: number, again = "no"): EffectOf => ({ kind: "begin-sequence", settings: { sequence, again } })
const step = (id: number, effect: EffectOf): SequenceStep => ({ id, kind: "effect", effect })
const wait: SequenceStep = { id: 99, kind: "wait", wait: { for: "span", minutes: 5 } }
const wires = (
  on: Partial<Record<OccasionKey, EffectOf[]>>,
  sequences: Record<number, SequenceStep[]> = {},
): Wires => ({
  on: new Map(Object.entries(on) as [OccasionKey, EffectOf[]][]),
  sequences: new Map(Object.entries(sequences).map(([id, steps]) => [Number(id), { goal: null, steps }])),
})
const flat = (links: readonly ChainLink[], depth = 0): string[] =>
  links.flatMap((l) => [
    `${" ".repeat(depth)}${l.effect.kind}${l.later ? " later" : ""}${l.maybe ? " maybe" : ""}${l.again ? " again" : ""}`,
    ...flat(l.follows, depth + 1),
  ])

describe("what follows", () => {
  it("goes through tags, sequences and their ends, in order, and says what comes later or perhaps", () => {
    const w = wires(
      { "tagged:1": [begin(7)], "sequence-ended:7": [tagOn(2)], "tagged:2": [tagOn(3)] },
      {
        7: [
          step(1, tagOn(4)),
          { id: 2, kind: "split", question: everybody, yes: [step(3, tagOn(5))], no: [] },
          wait,
          step(5, tagOn(6)),
        ],
      },
    )
    expect(flat(whatFollows(w, [tagOn(1)]))).toEqual([
      "tag-on",
      " begin-sequence",
      "  tag-on",
      "  tag-on maybe",
      "  tag-on later",
      "  tag-on later",
      "   tag-on",
    ])
  })
  it("shows a circle once", () => {
    const w = wires({ "tagged:1": [tagOn(2)], "tagged:2": [tagOn(1)] })
    expect(flat(whatFollows(w, [tagOn(1)]))).toEqual(["tag-on", " tag-on", "  tag-on again"])
  })
})

describe("a circle without a wait", () => {
  it.each<[string, Wires, boolean]>([
    ["a tag that is on isn't put on again", wires({ "tagged:1": [tagOn(2)], "tagged:2": [tagOn(1)] }), false],
    ["on and off", wires({ "tagged:1": [tagOff(1)], "untagged:1": [tagOn(1)] }), true],
    ["a sequence that begins itself at its end", wires({ "sequence-ended:7": [begin(7, "ended")] }, { 7: [] }), true],
    ["with a wait", wires({ "sequence-ended:7": [begin(7, "ended")] }, { 7: [wait] }), false],
    ["only once", wires({ "sequence-ended:7": [begin(7)] }, { 7: [] }), false],
    [
      "two that begin each other",
      wires({}, { 7: [step(1, begin(8, "at-once"))], 8: [step(1, begin(7, "at-once"))] }),
      true,
    ],
    [
      "one side waits, the other doesn't",
      wires(
        { "sequence-ended:7": [begin(7, "ended")] },
        {
          7: [{ id: 1, kind: "split", question: everybody, yes: [wait], no: [] }],
        },
      ),
      true,
    ],
    ["nothing", wires({}), false],
  ])("%s", (_, w, is) => expect(circleIn(w) !== null).toBe(is))
})
