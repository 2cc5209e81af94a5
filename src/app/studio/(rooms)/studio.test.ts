// What the studio's screens compute for themselves.
import { describe, expect, it } from "vitest"
import { layoutRiver } from "@/core/funnel/layout"
import { riverOf } from "@/core/funnel/river"
import { plainly, wear } from "@/core/look/look"
import type { Page } from "@/core/page/document"
import { newBlock } from "@/core/page/edit"
import { sampleFunnel } from "../../../../tests/support/sample"
import { whenWords } from "./funnels/[id]/pool-bench"
import { rangeOf } from "./funnels/[id]/range"
import { neighbour } from "./funnels/[id]/river"
import { funnelOf, periodOf } from "./numbers/query"
import { type Drawn, describe as describePage } from "./page-editor/describe"
import { day, moment, people, soon } from "./words"

const at = (iso: string) => Date.parse(iso)
const iso = (ms: number) => new Date(ms).toISOString()

describe("rangeOf", () => {
  const now = at("2026-11-24T09:00:00Z")
  it("takes the last 21 days of the school's calendar where nothing is asked", () => {
    const r = rangeOf({}, "Europe/Oslo", now, 0)
    expect([r.firstDay, r.lastDay, r.today]).toEqual(["2026-11-04", "2026-11-24", "2026-11-24"])
    expect([iso(r.from), iso(r.to)]).toEqual(["2026-11-03T23:00:00.000Z", "2026-11-24T23:00:00.000Z"])
  })
  it("begins and ends days where the school is, over a clock change", () => {
    const r = rangeOf({ from: "2026-10-25", to: "2026-10-25" }, "Europe/Oslo", now, 0)
    expect((r.to - r.from) / 3_600_000).toBe(25)
    expect(
      rangeOf({ from: "2026-03-29", to: "2026-03-29" }, "Europe/Oslo", now, 0).to -
        rangeOf({ from: "2026-03-29", to: "2026-03-29" }, "Europe/Oslo", now, 0).from,
    ).toBe(23 * 3_600_000)
    expect(iso(rangeOf({ from: "2026-11-01", to: "2026-11-01" }, "Asia/Kathmandu", now, 0).from)).toBe(
      "2026-10-31T18:15:00.000Z",
    )
  })
  it("turns a range that is the wrong way round, goes back to the beginning, and shrugs at nonsense", () => {
    expect(rangeOf({ from: "2026-11-20", to: "2026-11-10" }, "UTC", now, 0)).toMatchObject({
      firstDay: "2026-11-10",
      lastDay: "2026-11-20",
    })
    expect(rangeOf({ from: "beginning" }, "UTC", now, at("2026-01-05T12:00:00Z")).firstDay).toBe("2026-01-05")
    for (const bad of ["2026-02-31", "x", "'; DROP", "99999-01-01", ""])
      expect(rangeOf({ from: bad, to: bad }, "UTC", now, 0).lastDay).toBe("2026-11-24")
  })
  it("lies on quarter-hours, as the rollup does", () => {
    for (const zone of ["Asia/Kathmandu", "Australia/Eucla", "Pacific/Chatham", "America/St_Johns", "UTC"]) {
      const r = rangeOf({}, zone, now, 0)
      expect([r.from % 900_000, r.to % 900_000]).toEqual([0, 0])
    }
  })
})

describe("what an address of Numbers asks for", () => {
  const now = Date.parse("2026-12-02T10:00:00Z")
  const days = (asked: object) => {
    const { from, to } = periodOf(asked, "Europe/Oslo", now)
    return `${from} ${to}`
  }
  it("is the last 28 days where it makes no sense", () => {
    const usual = "2026-11-05 2026-12-02"
    expect(days({})).toBe(usual)
    expect(days({ from: "0001-01-01" })).toBe(usual)
    expect(days({ from: "2026-13-01", to: "9999-12-31" })).toBe(usual)
    expect(days({ from: ["2026-11-01", "2026-11-02"] })).toBe(usual)
    expect(days({ from: "2026-12-31" })).toBe(usual)
    expect(days({ from: "2026-11-01", to: "2026-11-03" })).toBe("2026-11-01 2026-11-03")
  })
  it("is of all funnels where none is meant", () => {
    for (const funnel of ["Infinity", "1e9", "-1", "0", "x", "1,2", undefined])
      expect(funnelOf({ funnel } as never)).toBeNull()
    expect(funnelOf({ funnel: "12" })).toBe(12)
  })
})

describe("words", () => {
  const now = at("2026-11-24T08:00:00Z")
  it.each([
    ["2026-11-24T08:00:30Z", "now"],
    ["2026-11-24T08:25:00Z", "in 25 minutes"],
    ["2026-11-24T15:30:00Z", "today at 16:30"],
    ["2026-11-25T06:30:00Z", "tomorrow at 07:30"],
    ["2026-11-27T06:30:00Z", "on 27 Nov, 07:30"],
  ])("%s is %s", (when, words) => {
    expect(soon(at(when), now, "Europe/Oslo")).toBe(words)
  })
  it("says dates where the school is", () => {
    expect(day(at("2026-11-24T23:30:00Z"), "Europe/Oslo")).toBe("25 Nov 2026")
    expect(moment(at("2026-11-24T23:30:00Z"), "America/New_York")).toBe("24 Nov, 18:30")
  })
  it("counts people", () =>
    expect([people(0), people(1), people(12_345)]).toEqual(["0 people", "1 person", "12,345 people"]))
  it.each([
    [0, null, "at once"],
    [0, 450, "the next time it is 07:30 where the reader is"],
    [1, 450, "a day later at 07:30 where the reader is"],
    [3, null, "3 days later"],
    [2, 0, "2 days later at 00:00 where the reader is"],
  ])("a mail after %i days at %s comes %s", (days, minute, words) => {
    expect(whenWords(days, minute)).toBe(words)
  })
})

describe("walking the river", () => {
  const funnel = sampleFunnel()
  const drawing = layoutRiver(riverOf(funnel, [], new Map(), new Map()), 1240)
  it("goes along the channel, down to the pool and up again, and stays at the ends", () => {
    expect(neighbour(drawing, "s1", "right")).toBe("s2")
    expect(neighbour(drawing, "s2", "left")).toBe("s1")
    expect(neighbour(drawing, "s1", "left")).toBe("s1")
    expect(neighbour(drawing, "s3", "down")).toBe("p9")
    expect(neighbour(drawing, "p9", "up")).toMatch(/^s[34]$/)
    expect(neighbour(drawing, "gone", "right")).toBe("s1")
  })
  it("reaches every card from the first", () => {
    const seen = new Set(["s1"])
    for (const from of seen)
      for (const way of ["left", "right", "up", "down"] as const) seen.add(neighbour(drawing, from, way))
    expect(seen.size).toBe(drawing.cards.length)
  })
})

describe("the line below a page", () => {
  const page = (...blocks: Page["blocks"]): Page => ({ version: 1, title: "T", blocks })
  const button = (id: string, leads: Extract<Page["blocks"][number], { kind: "button" }>["leads"]) => ({
    id,
    kind: "button" as const,
    says: "x",
    leads,
  })
  const measures = (p: Page, more: Partial<Drawn> = {}) =>
    describePage(p, { html: "", weight: 15_000, phone: null, ...more }, wear(plainly("conservatory")), "page")
  const value = (p: Page, says: RegExp, more: Partial<Drawn> = {}) => measures(p, more).find((l) => says.test(l.says))
  it("counts one action however often it stands there", () => {
    expect(value(page(newBlock("form", "a"), button("b", { to: "form" })), /action/)).toMatchObject({
      says: "One action",
      good: true,
      by: [{ mend: { block: "a" } }, { mend: { block: "b" } }],
    })
    expect(
      value(page(button("a", { to: "outcome", outcome: "started" }), button("b", { to: "step", step: 1 })), /action/),
    ).toMatchObject({ says: "2 different actions", good: false })
    expect(value(page(), /action/)).toMatchObject({ says: "No action", good: true })
  })
  it("says when a page is too heavy", () => {
    const loads = (weight: number | null) => value(page(), /^Loads/, { weight })
    expect(loads(15_000)).toMatchObject({
      says: "Loads slowly",
      good: false,
      by: [{ says: "14.6 of 14 KB, compressed." }, {}],
    })
    expect(loads(2048)).toMatchObject({ says: "Loads fast", good: true })
    expect(loads(null)).toBeUndefined()
  })
  it("says whether it fits a phone, and which part doesn't", () => {
    expect(value(page(), /phone/, { phone: { over: 0, block: null } })).toMatchObject({
      says: "Fits a phone",
      good: true,
    })
    expect(value(page(), /phone/, { phone: { over: 40, block: "t" } })).toMatchObject({
      good: false,
      by: [{ says: "40 pixels wider than 390.", mend: { block: "t" } }],
    })
    expect(value(page(), /phone/)).toBeUndefined()
  })
  it("looks at what is said of it where it is found, but not of a lesson", () => {
    const told = { ...page(), title: "Kraut", description: "How it is made." }
    expect(value(told, /found/i)).toMatchObject({ good: true })
    expect(value({ ...told, title: "x".repeat(61) }, /found/i)).toMatchObject({
      good: false,
      by: [{ mend: { page: true } }, {}],
    })
    expect(value(page(), /found/i)).toMatchObject({ good: false })
    expect(
      describePage(told, { html: "", weight: null, phone: null }, wear(plainly("conservatory")), "lesson"),
    ).toHaveLength(2)
  })
  it("counts the ways off, and the pictures without words", () => {
    const away = (n: number) =>
      page({ id: "t", kind: "text", html: `<p>${`<a href="https://x.example">a</a>`.repeat(n)}</p>` })
    expect(value(away(1), /away/)).toMatchObject({
      says: "One link leads away",
      good: false,
      by: [{ mend: { block: "t" } }],
    })
    expect(value(away(2), /away/)).toMatchObject({ says: "2 links lead away", good: false })
    expect(value(page({ id: "t", kind: "text", html: `<a href="step:3">a</a>` }), /away/)).toBeUndefined()
    const picture = (alt: string) => value(page({ id: "p", kind: "picture", media: 1, alt }), /can’t see/)
    expect(picture(" ")).toMatchObject({ good: false, by: [{ mend: { block: "p" } }] })
    expect(picture("A jar")).toBeUndefined()
  })
  it("says whether it can be read", () => {
    const says = (text: string) => value(page({ id: "t", kind: "text", html: `<p>${text}</p>` }), /read/i)
    expect(says("A jar, salt and time. ".repeat(60))).toMatchObject({
      says: "Readable",
      good: true,
      by: [
        { mend: { href: "/studio/settings/look" } },
        { says: expect.stringMatching(/^Reading ease \d+ \(Flesch\)/) },
        { says: "1 min to read." },
      ],
    })
    expect(
      says("Fermentational epistemology necessitates interdisciplinary contextualisation. ".repeat(30)),
    ).toMatchObject({ good: false })
  })
})
