import { describe, expect, it } from "vitest"
import { made, pageOf } from "../../../tests/support/every-block"
import type { CourseCard } from "../course/card"
import type { Page } from "./document"
import { describedAs, structured } from "./shared"

const page = (...blocks: Page["blocks"]): Page => ({ version: 1, title: "T", blocks })
const pictures = new Map([[1, { url: "/media/a.webp", width: 1200, height: 800 }]])
const videos = new Map([[2, { url: "/media/a.mp4", type: "video/mp4", at: "2026-11-30" }]])
const about = (courses: readonly CourseCard[]) => ({ courses, school: "S", pictures, videos })
const text = (html: string) => ({ id: "t", kind: "text" as const, html })

describe("what a page says of itself", () => {
  it("is what was written, or else its first text, cut at a word", () => {
    expect(describedAs({ ...page(text("<p>First</p>")), description: " Own words " })).toBe("Own words")
    expect(describedAs(page(made("headline", 1), text("<p>Salt &amp; <b>time</b></p>")))).toBe("Salt & time")
    const long = describedAs(page(text(`<p>${"word ".repeat(80)}</p>`)))
    expect(long.length).toBeLessThanOrEqual(202)
    expect(long.endsWith("word …")).toBe(true)
    expect(describedAs(page(made("picture", 1)))).toBe("")
  })

  // schema.org: a FAQPage has Questions in mainEntity, each with an acceptedAnswer that has a text; a Course has a name, a description
  // and a provider.
  it("is data of what stands there: questions with answers only, and a live course with a promise", () => {
    const questions = {
      id: "q",
      kind: "questions" as const,
      title: "",
      items: [
        { asks: "How long?", says: "A year" },
        { asks: "Waits", says: "" },
      ],
    }
    const course = {
      id: 1,
      slug: "a",
      title: "A",
      promise: "P",
      teacher: "",
      state: "live" as const,
      lessons: [],
      promises: [],
    }
    const lessons = { id: "l", kind: "lessons" as const, course: 1 }
    expect(structured(page(questions, lessons), about([course]))).toEqual([
      {
        "@context": "https://schema.org",
        "@type": "FAQPage",
        mainEntity: [{ "@type": "Question", name: "How long?", acceptedAnswer: { "@type": "Answer", text: "A year" } }],
      },
      {
        "@context": "https://schema.org",
        "@type": "Course",
        name: "A",
        description: "P",
        provider: { "@type": "Organization", name: "S" },
      },
    ])
    expect(structured(page(lessons), about([{ ...course, state: "draft" }]))).toEqual([])
  })

  // schema.org and the search engines' common rule: a VideoObject has a name, a day of upload and a thumbnail, with whole addresses.
  it("is a film's, where it has a name and a picture and is played when asked; its addresses are the school's own", () => {
    const film = { id: "v", kind: "video" as const, media: 2, says: "Salt", plays: "asked" as const, poster: 1 }
    expect(structured(page(film), about([]))).toMatchObject([
      {
        "@type": "VideoObject",
        name: "Salt",
        uploadDate: "2026-11-30",
        contentUrl: expect.stringMatching(/\/media\/a\.mp4$/),
      },
    ])
    const cover = { ...film, plays: "by-itself" as const }
    for (const none of [cover, { ...film, says: "" }, { ...film, poster: null }])
      expect(structured(page(none), about([]))).toEqual([])
    const html = pageOf([film], "kitchen-table", {}, 1)
    expect(html).not.toContain("origin.invalid")
  })

  it("ends no element, whatever stands in it, and is on no page that the editor draws", () => {
    const evil = "</script><script>alert(1)</script>"
    const blocks = [
      made("headline", 1),
      text("<p>About it</p>"),
      { id: "q", kind: "questions" as const, title: "", items: [{ asks: evil, says: evil }] },
    ]
    const drawn = pageOf(blocks, "workshop", {}, 7)
    const data = /<script type="application\/ld\+json">(.*?)<\/script>/s.exec(drawn)![1]!
    expect(JSON.parse(data).mainEntity[0].name).toBe(evil)
    expect(drawn).toContain('<meta name="description" content="About it">')
    expect(pageOf(blocks, "workshop")).not.toContain("ld+json")
  })
})
