import fc from "fast-check"
import { describe, expect, it } from "vitest"
import { sampleCourse } from "../../../tests/support/sample"
import { neighbours, nextLesson, progressOf } from "../course/path"
import { readPage } from "../page/document"
import { miniCourseFunnel } from "./recipe"
import { freeSlug, isPath, reserved, slugOf } from "./slug"
import { sourceOf } from "./source"

describe("slugOf", () => {
  it.each([
    ["The First Crock", "the-first-crock"],
    ["  Søren's Łódź & Æble! ", "soren-s-lodz-aeble"],
    ["第一の壺", "page"],
    ["../../etc/passwd", "etc-passwd"],
    ["x".repeat(90), "x".repeat(60)],
  ])("%j becomes %s", (name, slug) => {
    expect(slugOf(name)).toBe(slug)
  })
  it("always gives an address that can stand, or one of our own words that freeSlug steps around", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme" }), (name) => {
        expect(isPath(freeSlug(slugOf(name), new Set(reserved)))).toBe(true)
      }),
      { seed: 8 },
    )
  })
})

describe("isPath", () => {
  it.each([
    ["first-crock", true],
    ["a/b/c/d", true],
    ["a/b/c/d/e", false],
    ["", false],
    ["Studio", false],
    ["studio", false],
    ["learn/x", false],
    ["_next/x", false],
    ["a//b", false],
    ["/a", false],
    ["a b", false],
    ["a?b", false],
    [`a${"b".repeat(170)}`, false],
  ])("%j: %s", (path, good) => {
    expect(isPath(path)).toBe(good)
  })
})

describe("sourceOf", () => {
  // utm_source and utm_campaign are common practice.
  it.each([
    ["utm_source=garden%20letter", "", "garden letter"],
    ["utm_source=letter&utm_campaign=autumn", "", "letter · autumn"],
    ["", "https://www.search.example/?q=kraut", "search.example"],
    ["", "https://own.example/first", "direct"],
    ["", "", "direct"],
    ["", "javascript:alert(1)", "direct"],
    ["", "android-app://com.mail", "direct"],
    ["utm_source=%0d%0aSet-Cookie:x", "", "Set-Cookie:x"],
    ["utm_source=%20%20", "not a url", "direct"],
  ])("%s and %s is %s", (query, referrer, source) => {
    expect(sourceOf(new URLSearchParams(query), referrer, "own.example")).toBe(source)
  })
  it("is never empty and never long", () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), (a, b) => {
        const s = sourceOf(new URLSearchParams({ utm_source: a, utm_campaign: a }), b, "x")
        expect(s.length).toBeGreaterThan(0)
        expect(s.length).toBeLessThanOrEqual(60)
      }),
      { seed: 9 },
    )
  })
})

describe("a learner's way", () => {
  const lessons = [{ id: 1 }, { id: 2 }, { id: 3 }]
  it("goes on at the first that isn't done, and begins anew when all are", () => {
    expect(nextLesson(lessons, new Set([1]))?.id).toBe(2)
    expect(nextLesson(lessons, new Set([2]))?.id).toBe(1)
    expect(nextLesson(lessons, new Set([1, 2, 3]))?.id).toBe(1)
    expect(nextLesson([], new Set())).toBeUndefined()
  })
  it("counts only lessons that are there", () =>
    expect(progressOf(lessons, new Set([1, 99]))).toEqual({ done: 1, of: 3 }))
  it("knows what comes before and after", () => {
    expect(neighbours(lessons, 2)).toEqual({ before: { id: 1 }, after: { id: 3 } })
    expect(neighbours(lessons, 1).before).toBeUndefined()
    expect(neighbours(lessons, 9)).toEqual({})
  })
})

describe("a mini-course as a funnel", () => {
  it("writes pages that can be read again, however long the course's words are", () => {
    for (const letter of ["x", "🥬", "w "]) {
      const title = letter.repeat(160).slice(0, 160)
      const recipe = miniCourseFunnel(
        { ...sampleCourse, title, promise: letter.repeat(400).slice(0, 400), pictureId: 3 },
        "x",
      )
      for (const s of recipe.steps) {
        if (s.page) expect(readPage(s.page)).toEqual(s.page)
        expect(s.name.length).toBeLessThanOrEqual(120)
        expect(() => encodeURIComponent(s.name)).not.toThrow() // no half of a character
      }
      expect(recipe.name.length).toBeLessThanOrEqual(120)
    }
  })
  it("writes an e-mail for each live lesson: the first at once, then one each morning (rule of the trade)", () => {
    const sequence = miniCourseFunnel(sampleCourse, "first").sequences[0]!
    expect(sequence.mails.map((m) => [m.afterDays, m.atMinute, m.lessonId])).toEqual([
      [0, null, 1],
      [1, 450, 2],
      [1, 450, 3],
    ])
    expect(sequence.mails[0]!.body).toContain("Open &lt;well&gt;")
    expect(sequence.name).toBe("Three mornings")
  })
  it("leaves draft lessons out, unless all are", () => {
    const lessons = sampleCourse.lessons.map((l, i) => ({
      ...l,
      state: i === 1 ? ("live" as const) : ("draft" as const),
    }))
    expect(miniCourseFunnel({ ...sampleCourse, lessons }, "x").sequences[0]!.mails).toHaveLength(1)
    expect(
      miniCourseFunnel({ ...sampleCourse, lessons: lessons.map((l) => ({ ...l, state: "draft" })) }, "x").sequences[0]!
        .mails,
    ).toHaveLength(3)
  })
})
