import { describe, expect, it } from "vitest"
import { sampleCourse, sampleFunnel } from "../../../tests/support/sample"
import { type FindingRule, sayFindings } from "../finding"
import type { Block, Page } from "../page/document"
import { words } from "../words/en"
import type { Funnel } from "./draft"
import type { CourseDoors, MailState, ProgrammeFacts, WebinarFacts } from "./finding"
import { preflight } from "./preflight"

const fine = {
  sender: { name: "Maren", email: "maren@s.example" },
  taken: new Map<string, string>(),
  selling: { offers: new Map(), gone: new Map(), processor: true, statement: "JUNIPER CROCK", at: 0 },
  mail: "well" as MailState,
  webinars: new Map<number, WebinarFacts>(),
  programmes: new Map<number, ProgrammeFacts>(),
  doors: new Map<number, CourseDoors>(),
}
const base = sampleFunnel()
const rules = (f: Funnel, context = fine) => preflight(f, context).map((x) => x.rule)
const said = (f: Funnel, context: Parameters<typeof preflight>[1] = fine) => sayFindings(words, preflight(f, context))
const step = (kind: string) => base.steps.find((s) => s.kind === kind)!
const withStep = (kind: string, change: object): Funnel => ({
  ...base,
  steps: base.steps.map((s) => (s.kind === kind ? { ...s, ...change } : s)),
})
const withStream = (from: string, to: string | null): Funnel => ({
  ...base,
  streams: base.streams.map((s) => (s.from === step(from).id ? { ...s, to: to === null ? null : step(to).id } : s)),
})
const withSequence = (change: object): Funnel => ({
  ...base,
  sequences: base.sequences.map((q) => ({ ...q, ...change })),
})
const withPage = (kind: string, change: (p: Page) => Page): Funnel => withStep(kind, { page: change(step(kind).page!) })

describe("preflight", () => {
  it("finds nothing in what New funnel makes", () => {
    expect(preflight(base, fine)).toEqual([])
  })

  const cases: [string, FindingRule, Funnel, typeof fine?][] = [
    ["an outcome leads nowhere", "outcome-leads-nowhere", withStream("inbox", null)],
    [
      "an outcome leads to a step that is gone",
      "outcome-leads-nowhere",
      { ...base, steps: base.steps.filter((s) => s.kind !== "welcome") },
    ],
    ["a circle with no way out", "circle-without-way-out", withStream("welcome", "inbox")],
    ["a form that starts nothing", "form-starts-nothing", { ...base, effects: [] }],
    [
      "an opt-in page without a form",
      "page-without-form",
      withPage("optin", (p) => ({ ...p, blocks: p.blocks.filter((b) => b.kind !== "form" && b.kind !== "button") })),
    ],
    ["a course that is a draft", "course-not-ready", { ...base, courses: [{ ...sampleCourse, state: "draft" }] }],
    ["a course without a live lesson", "course-not-ready", { ...base, courses: [{ ...sampleCourse, lessons: [] }] }],
    ["a learning area without a course", "course-not-ready", withStep("learning", { settings: { course: null } })],
    ["an empty sequence", "sequence-not-ready", withSequence({ mails: [] })],
    ["a sequence that is a draft", "sequence-not-ready", withSequence({ state: "draft" })],
    [
      "an e-mail without a subject",
      "sequence-not-ready",
      withSequence({ mails: [{ ...base.sequences[0]!.mails[0]!, subject: " " }] }),
    ],
    [
      "an e-mail without a word",
      "sequence-not-ready",
      withSequence({ mails: [{ ...base.sequences[0]!.mails[0]!, body: "<p> </p>" }] }),
    ],
    [
      "a button without a target",
      "button-without-target",
      withPage("welcome", (p) => ({
        ...p,
        blocks: p.blocks.map((b) => (b.kind === "button" ? { ...b, leads: null } : b)),
      })),
    ],
    [
      "a button to a step that is gone",
      "button-without-target",
      withPage("welcome", (p) => ({
        ...p,
        blocks: p.blocks.map((b) => (b.kind === "button" ? { ...b, leads: { to: "step", step: 99 } } : b)),
      })),
    ],
    [
      "a mail whose button leads to no lesson",
      "button-without-target",
      withSequence({ mails: [{ ...base.sequences[0]!.mails[0]!, lessonId: null }] }),
    ],
    [
      "a mail that leads to a draft lesson",
      "course-not-ready",
      {
        ...base,
        courses: [
          {
            ...sampleCourse,
            lessons: sampleCourse.lessons.map((l) => (l.id === 2 ? { ...l, state: "draft" as const } : l)),
          },
        ],
      },
    ],
    ["a sequence that can't be left", "sequence-cannot-be-left", withSequence({ leaveLine: " " })],
    ["a sequence without a sender", "sequence-without-sender", base, { ...fine, sender: { name: "Maren", email: "" } }],
    ["two pages of this funnel at one address", "address-used-twice", withStep("welcome", { path: "first" })],
    [
      "another funnel's page at the address",
      "address-used-twice",
      base,
      { ...fine, taken: new Map([["first", "Other"]]) },
    ],
    ["an address that is ours", "address-cannot-stand", withStep("optin", { path: "studio" })],
    ["no address", "address-cannot-stand", withStep("optin", { path: "" })],
    ["no mail server", "no-mail-server", base, { ...fine, mail: "none" as const }],
    ["a mail server that refused", "no-mail-server", base, { ...fine, mail: { refused: "550 no" } }],
    ...(
      [
        { id: "x", kind: "headline", text: " " },
        { id: "x", kind: "headline", text: "A new headline" },
        { id: "x", kind: "text", html: "<p>A few words on what it adds to what you just bought.</p>" },
        { id: "x", kind: "list", items: ["Salt", "Second point"] },
        { id: "x", kind: "picture", media: null, alt: "" },
        { id: "x", kind: "video", media: null, says: "" },
        { id: "x", kind: "button", says: " ", leads: null },
      ] as Block[]
    ).map((b): [string, FindingRule, Funnel] => [
      `a ${b.kind} that is still to be made`,
      "words-to-write",
      withPage("inbox", (p) => ({ ...p, blocks: [...p.blocks, b] })),
    ]),
    ["a page without a title", "page-without-title", withPage("inbox", (p) => ({ ...p, title: "  " }))],
  ]
  it.each(cases)("%s: %s", (_, rule, funnel, context) => {
    const found = said(funnel, context ?? fine).filter((f) => f.rule === rule)
    expect(found.length).toBeGreaterThan(0)
    for (const f of found) {
      expect(f.weight).toBe("stop")
      expect(f.suffers).toMatch(/\.$/)
      expect(f.says).not.toBe("")
      expect(`${f.suffers} ${f.says}`).not.toMatch(/undefined|null|\[object/)
    }
  })

  it("says once what two steps suffer alike", () => {
    const draft: Funnel = { ...base, courses: [{ ...sampleCourse, state: "draft" }] }
    expect(rules(draft)).toEqual(["course-not-ready"])
  })

  it("only advises words for a picture, and puts advice last", () => {
    const f = withPage("optin", (p) => ({
      ...p,
      title: "",
      blocks: [{ id: "pic", kind: "picture", media: 3, alt: "" }, ...p.blocks],
    }))
    expect(preflight(f, fine).map((x) => [x.rule, x.weight])).toEqual([
      ["page-without-title", "stop"],
      ["picture-without-words", "advice"],
    ])
  })

  it("knows when a course has outgrown what was made from it", () => {
    const lesson = { id: 4, title: "Lesson 4", minutes: 4, state: "live" as const, module: "", free: false }
    const grown: Funnel = { ...base, courses: [{ ...sampleCourse, lessons: [...sampleCourse.lessons, lesson] }] }
    const found = said(grown, fine)
    expect(found.map((f) => [f.rule, f.weight])).toEqual([
      ["lesson-without-mail", "advice"],
      ["wrong-sum", "advice"],
    ])
    expect(found[1]!.suffers).toBe("“First” speaks of “three short lessons”, and “First” has 4.")
    expect(found[0]!.fix).toEqual({ act: "write-mail", sequence: base.sequences[0]!.id, lesson: 4 })
    const draft = {
      ...grown,
      courses: [{ ...sampleCourse, lessons: [...sampleCourse.lessons, { ...lesson, state: "draft" as const }] }],
    }
    expect(said(draft, fine).map((f) => f.suffers)).toEqual([expect.stringContaining("still a draft")])
    const fewer = withSequence({ mails: base.sequences[0]!.mails.slice(0, 2) })
    expect(preflight(fewer, fine).map((f) => f.fix)).toContainEqual({
      act: "count-mails",
      sequence: base.sequences[0]!.id,
    })
  })

  it("says of a step that nobody can reach it", () => {
    const aside = { ...step("inbox"), id: 77, kind: "welcome" as const, name: "Aside", path: "first/aside" }
    const f: Funnel = {
      ...base,
      steps: [...base.steps, aside],
      streams: [...base.streams, { from: 77, outcome: "started", to: step("learning").id }],
    }
    expect(said(f, fine).map((x) => x.suffers)).toEqual(["Nobody can reach “Aside”: no outcome leads to it."])
  })

  it("offers the act that mends it: leading on to the next step", () => {
    const found = preflight(withStream("inbox", null), fine).find((f) => f.rule === "outcome-leads-nowhere")!
    expect(found.fix).toEqual({ act: "lead-on", step: step("inbox").id, outcome: "confirmed", to: step("welcome").id })
    expect(rules(base)).toEqual([])
  })
  it("knows lessons that are promised, live, and empty", () => {
    const [course] = base.courses
    const doors = { closed: false, signUpClosed: false, never: [], dead: [], empty: ["Salt", "Time"] }
    expect(said(base, { ...fine, doors: new Map([[course!.id, doors]]) })).toEqual([
      expect.objectContaining({
        suffers: `“Salt” and 1 more lesson in “${course!.title}” are live with nothing in them: learners open an empty page.`,
        weight: "stop",
        fix: { go: "course", course: course!.id },
      }),
    ])
  })

  it("knows lessons that can never open and gates that lead nowhere", () => {
    const [course] = base.courses
    const doors = new Map([
      [course!.id, { closed: true, signUpClosed: true, never: ["Salt"], dead: ["Old sale"], empty: [] }],
    ])
    const found = preflight(base, { ...fine, doors }).filter((f) => /opens|nowhere|closed/.test(f.rule))
    expect(found.map((f) => [f.rule, f.weight, f.fix])).toEqual([
      ["course-closed", "stop", { go: "course", course: course!.id, room: "settings" }],
      ["lesson-never-opens", "stop", { go: "course", course: course!.id, room: "opens" }],
      ["gate-leads-nowhere", "advice", { go: "course", course: course!.id, room: "without-access" }],
    ])
    expect(preflight(base, { ...fine, doors: new Map([[999, doors.get(course!.id)!]]) })).toEqual(preflight(base, fine))
  })
})
