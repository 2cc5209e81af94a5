// Where people go in a sequence, as laws over random sequences (common practice: a way has an end, nobody gets an e-mail twice,
// what was planned is what comes).
import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { everybody } from "../person/segment/segment"
import { emptyLetter, mailsInOrder, stepsOfMails } from "./document"
import {
  allSteps,
  copyOf,
  type Flow,
  freshId,
  insertFlowStep,
  moveFlowStep,
  removeFlowStep,
  spotBeside,
  stepAfter,
} from "./flow"
import { mailOf, type SequenceStep } from "./step/list"
import { type FlowPlace, travel } from "./travel"

const hour = 3_600_000
const begin = Date.UTC(2026, 10, 24, 9)

type Shape = { kind: string; minutes: number; yes: readonly Shape[]; no: readonly Shape[] }
const { steps: shapes } = fc.letrec<{ step: Shape; steps: readonly Shape[] }>((tie) => ({
  step: fc.record({
    kind: fc.constantFrom("send", "wait", "wait-until", "split", "effect", "end"),
    minutes: fc.integer({ min: 1, max: 4000 }),
    yes: fc.oneof({ maxDepth: 2 }, fc.constant<readonly Shape[]>([]), tie("steps")),
    no: fc.oneof({ maxDepth: 2 }, fc.constant<readonly Shape[]>([]), tie("steps")),
  }),
  steps: fc.array(tie("step"), { maxLength: 5 }),
}))

/** A random sequence, its steps and e-mails numbered. */
function flowOf(all: readonly Shape[]): Flow {
  let id = 0
  const step = (s: Shape): SequenceStep => {
    const own = { id: ++id }
    switch (s.kind) {
      case "send":
        return { ...own, kind: "send", mail: id }
      case "wait":
        return { ...own, kind: "wait", wait: { for: "span", minutes: s.minutes } }
      case "wait-until":
        return { ...own, kind: "wait-until", question: everybody, most: s.minutes }
      case "effect":
        return { ...own, kind: "effect", effect: { kind: "tag-on", settings: { tag: 1 } } }
      case "split":
        return { ...own, kind: "split", question: everybody, yes: s.yes.map(step), no: s.no.map(step) }
      default:
        return { ...own, kind: "end" }
    }
  }
  return { goal: null, steps: all.map(step) }
}

/** Somebody's whole way, answered by a random die: what happened at which instant. */
function wayThrough(
  flow: Flow,
  answers: readonly boolean[],
): { mails: { mail: number; at: number }[]; met: number[]; end: number } {
  const mails: { mail: number; at: number }[] = []
  const met: number[] = []
  let place: FlowPlace = { step: flow.steps[0]?.id ?? null, arrived: begin }
  let now = begin
  let answer: boolean | undefined
  for (let turn = 0; turn < 2000; turn++) {
    const halt = travel(flow, place, { now, zone: "Europe/Oslo", answer, moment: undefined })
    answer = undefined
    if (halt.at === "end") return { mails, met, end: now }
    if (halt.place.step !== met.at(-1) && halt.place.step !== null) met.push(halt.place.step)
    switch (halt.at) {
      case "mail": {
        now = Math.max(now, halt.due)
        mails.push({ mail: halt.mail, at: now })
        const sent = allSteps(flow.steps).find((s) => mailOf(s) === halt.mail)!
        place = { step: stepAfter(flow, sent.id)?.id ?? null, arrived: now }
        break
      }
      case "rest":
        place = halt.place
        now = halt.until
        break
      case "question":
        place = halt.place
        answer = answers[turn % answers.length] ?? true
        break
      case "moment":
        throw new Error("none of these waits for a moment")
      case "doing":
        place = halt.next
    }
  }
  throw new Error("it never ends")
}

describe("a way through a sequence", () => {
  const answers = fc.array(fc.boolean(), { minLength: 1, maxLength: 7 })

  it("always ends, meets no step twice, and brings no e-mail twice", () => {
    fc.assert(
      fc.property(shapes, answers, (all, say) => {
        const way = wayThrough(flowOf(all), say)
        expect(new Set(way.met).size).toBe(way.met.length)
        expect(new Set(way.mails.map((m) => m.mail)).size).toBe(way.mails.length)
      }),
      { seed: 10, numRuns: 2000 },
    )
  })

  it("goes down only, and time with it", () => {
    fc.assert(
      fc.property(shapes, answers, (all, say) => {
        const flow = flowOf(all)
        const order = allSteps(flow.steps).map((s) => s.id)
        const way = wayThrough(flow, say)
        const ranks = way.met.map((id) => order.indexOf(id))
        expect(ranks).toEqual([...ranks].sort((a, b) => a - b))
        const times = way.mails.map((m) => m.at)
        expect(times).toEqual([...times].sort((a, b) => a - b))
      }),
      { seed: 11, numRuns: 1000 },
    )
  })

  it("meets the steps behind a split whichever way was taken, unless that way ends", () => {
    const sides = (end: boolean): Flow => ({
      goal: null,
      steps: [
        {
          id: 1,
          kind: "split",
          question: everybody,
          yes: [{ id: 2, kind: "send", mail: 2 }, ...(end ? [{ id: 9, kind: "end" } as const] : [])],
          no: [],
        },
        { id: 3, kind: "send", mail: 3 },
      ],
    })
    const mails = (flow: Flow, yes: boolean) => wayThrough(flow, [yes]).mails.map((m) => m.mail)
    expect(mails(sides(false), true)).toEqual([2, 3])
    expect(mails(sides(false), false)).toEqual([3])
    expect(mails(sides(true), true)).toEqual([2])
    expect(mails(sides(true), false)).toEqual([3])
  })

  it("looks at whoever waits as often as one likes, and plans the same", () => {
    fc.assert(
      fc.property(shapes, answers, fc.integer({ min: 0, max: 50 }), (all, say, minutes) => {
        const flow = flowOf(all)
        const first = travel(
          flow,
          { step: flow.steps[0]?.id ?? null, arrived: begin },
          {
            now: begin,
            zone: "UTC",
            answer: say[0],
            moment: undefined,
          },
        )
        if (first.at !== "mail" && first.at !== "rest") return
        const until = first.at === "mail" ? first.due : first.until
        const again = travel(flow, first.place, {
          now: Math.min(begin + minutes * 60_000, until),
          zone: "UTC",
          answer: say[0],
          moment: undefined,
        })
        if (begin + minutes * 60_000 < until) expect(again).toEqual(first)
      }),
      { seed: 12 },
    )
  })

  it("waits for what happens, at most so long", () => {
    const flow: Flow = {
      goal: null,
      steps: [
        { id: 1, kind: "wait-until", question: everybody, most: 60 },
        { id: 2, kind: "send", mail: 5 },
      ],
    }
    const at = (now: number, answer: boolean | undefined) =>
      travel(flow, { step: 1, arrived: begin }, { now, zone: "UTC", answer, moment: undefined })
    expect(at(begin, undefined)).toMatchObject({ at: "question" })
    expect(at(begin, false)).toMatchObject({ at: "rest", until: begin + hour, listens: true })
    expect(at(begin + 1, true)).toMatchObject({ at: "mail", mail: 5, due: begin + 1 })
    expect(at(begin + hour, undefined)).toMatchObject({ at: "mail", mail: 5 })
  })

  it("asks for a moment, and passes one that is past or isn't there", () => {
    const flow: Flow = {
      goal: null,
      steps: [{ id: 1, kind: "wait", wait: { for: "moment", moment: { of: "offer-ends", id: 4 }, minutes: -1440 } }],
    }
    const at = (moment: number | null | undefined) =>
      travel(flow, { step: 1, arrived: begin }, { now: begin, zone: "UTC", answer: undefined, moment })
    expect(at(undefined)).toMatchObject({ at: "moment", moment: { of: "offer-ends", id: 4 } })
    expect(at(begin + 48 * hour)).toMatchObject({ at: "rest", until: begin + 24 * hour })
    expect(at(begin + hour)).toEqual({ at: "end" })
    expect(at(null)).toEqual({ at: "end" })
  })

  it("leaves out what follows a moment that is past, up to the next wait, where that was chosen", () => {
    const wait = (id: number, minutes: number): SequenceStep => ({
      id,
      kind: "wait",
      wait: { for: "moment", moment: { of: "webinar-starts", id: 4 }, minutes, late: "leave-out" },
    })
    const flow: Flow = {
      goal: null,
      steps: [wait(1, -1440), { id: 2, kind: "send", mail: 5 }, wait(3, -60), { id: 4, kind: "send", mail: 6 }],
    }
    const from = (step: number, moment: number | null) =>
      travel(flow, { step, arrived: begin }, { now: begin, zone: "UTC", answer: undefined, moment })
    // Two days before: the first waits for its time.
    // It is of no use once the moment has come.
    expect(from(1, begin + 48 * hour)).toMatchObject({
      at: "mail",
      mail: 5,
      due: begin + 24 * hour,
      notAfter: begin + 48 * hour,
    })
    // Three hours before: the first is left out, the second waits.
    expect(from(1, begin + 3 * hour)).toMatchObject({ at: "moment", place: { step: 3 } })
    expect(from(3, begin + 3 * hour)).toMatchObject({ at: "mail", mail: 6, due: begin + 2 * hour })
    expect(from(3, begin + hour / 2)).toEqual({ at: "end" })
    expect(from(3, null)).toEqual({ at: "end" })
    // To the minute it is not too late.
    expect(from(3, begin + hour)).toMatchObject({ at: "mail", mail: 6, due: begin })
  })
})

describe("changes to the steps", () => {
  const ids = (steps: readonly SequenceStep[]) => allSteps(steps).map((s) => s.id)

  it("keep every step, wherever one is moved, and take back what they did", () => {
    fc.assert(
      fc.property(shapes, fc.nat(), fc.nat(), fc.boolean(), (all, a, b, up) => {
        const { steps } = flowOf(all)
        const every = ids(steps)
        if (every.length < 2) return
        const [one, other] = [every[a % every.length]!, every[b % every.length]!]
        const moved = moveFlowStep(steps, one, { after: other })
        if (moved) expect([...ids(moved)].sort()).toEqual([...every].sort())
        const spot = spotBeside(steps, one, up ? "up" : "down")
        if (!spot) return
        const beside = moveFlowStep(steps, one, spot)!
        expect([...ids(beside)].sort()).toEqual([...every].sort())
        expect(moveFlowStep(beside, one, spotBeside(beside, one, up ? "down" : "up")!)).toEqual(steps)
      }),
      { seed: 13, numRuns: 1000 },
    )
  })

  it("put in, copy and remove", () => {
    fc.assert(
      fc.property(shapes, fc.nat(), (all, a) => {
        const { steps } = flowOf(all)
        const every = allSteps(steps)
        const one = every[a % (every.length || 1)]
        if (!one) return
        const copy = copyOf(one, freshId(steps), (m) => m + 1000)
        const put = insertFlowStep(steps, { after: one.id }, copy)!
        expect(new Set(ids(put)).size).toBe(every.length + allSteps([one]).length)
        expect(removeFlowStep(put, copy.id)).toEqual(steps)
        expect(moveFlowStep(steps, one.id, { after: one.id })).toBeNull()
      }),
      { seed: 14 },
    )
  })

  it("make a plain series of e-mails of steps, and find it again", () => {
    const mails = [
      { ...emptyLetter, id: 4, afterDays: 0, atMinute: null },
      { ...emptyLetter, id: 5, afterDays: 1, atMinute: 450 },
      { ...emptyLetter, id: 9, afterDays: 0, atMinute: 450 },
    ]
    expect(mailsInOrder(stepsOfMails(mails), mails)).toEqual(mails)
  })
})
