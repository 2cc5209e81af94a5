import { describe, expect, it } from "vitest"
import { sampleCourse } from "../../../tests/support/sample"
import { readPage } from "../page/document"
import { miniCourseFunnel } from "./recipe"

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
