// The front page and the legal pages: HTML that can be relied on in every look, light, with nothing where there is nothing.
import { gzipSync } from "node:zlib"
import { describe, expect, it } from "vitest"
import { problems } from "../../../tests/support/valid-html"
import { lookNames } from "../look/list"
import { plainly, wear } from "../look/look"
import { type HomePage, homePage } from "./home"
import { legalKinds, legalPage } from "./legal"

const evil = '<script>alert("1")</script>'
const picture = { url: "/media/a.webp", width: 2400, height: 1500, focus: [10, 50] as const }
const begins = (path: string, title: string) => ({ path, title, about: "What it is about", picture })
const at = Date.parse("2026-12-03T18:00:00Z")

const home = (more: Partial<HomePage> = {}): HomePage => ({
  school: { name: "Juniper Crock", look: wear(plainly("pantry")), legal: ["imprint", "terms"] },
  zone: "Europe/Oslo",
  teachers: [{ name: "Maren", about: "Fifteen years\nof jars", portrait: picture }],
  given: [begins("first-crock", "The First Crock")],
  webinars: [{ ...begins("brine", "Why brine goes cloudy"), dates: [at] }],
  courses: [
    { ...begins("a-year", "A Year"), amount: "€290", note: "3 left." },
    { ...begins("b-year", evil), picture: null, amount: "", note: "It is sold out." },
  ],
  more: [begins("recommend", "Recommend it")],
  ...more,
})
const drawn = (more: Partial<HomePage> = {}) => homePage(home(more), "https://crock.example").html

describe("the front page", () => {
  it.each(lookNames)(
    "is HTML that can be relied on in the look %s, and weighs no more than a page may",
    async (look) => {
      const text = drawn({
        school: { name: "Juniper Crock", look: wear(plainly(look)), logo: picture, legal: legalKinds },
      })
      expect(await problems(text)).toEqual([])
      expect(gzipSync(text).length).toBeLessThan(14 * 1024)
    },
  )

  it("shows who teaches, what is given, when, and what it costs, and leads to each", () => {
    const text = drawn()
    for (const path of ["first-crock", "brine", "a-year", "b-year", "recommend", "imprint", "terms", "learn"])
      expect(text).toContain(`href="/${path}"`)
    expect(text).toContain('<b class="amount">€290</b>')
    expect(text).toContain("Thursday 3 December at 19:00")
    expect(text).toContain("Oslo time")
    expect(text).not.toContain(evil)
    expect(text.match(/<h1/g)).toHaveLength(1)
    // One picture comes at once, the others when they are come to.
    expect(text.match(/fetchpriority="high"/g)).toHaveLength(1)
  })

  it("has no section of which there is nothing, and no two neighbours on the same ground", () => {
    const grounds = (text: string) => [...text.matchAll(/class="section (\w+)"/g)].map((m) => m[1])
    expect(grounds(drawn())).toEqual(["tinted", "plain", "tinted"])
    expect(grounds(drawn({ webinars: [] }))).toEqual(["tinted", "plain"])
    const empty = drawn({ given: [], webinars: [], courses: [], teachers: [], more: [] })
    expect(grounds(empty)).toEqual([])
    expect(empty).toContain("Nothing is on here just now.")
    expect(empty).toContain('<h1 dir="auto">Juniper Crock</h1>')
  })

  it("shows a second teacher after all the rest", () => {
    const second = { name: "Tomasz", about: "Bread", portrait: null }
    const text = drawn({ teachers: [...home().teachers, second] })
    expect(text.indexOf("Tomasz")).toBeGreaterThan(text.indexOf("A Year"))
  })
})

describe("a legal page", () => {
  it.each(legalKinds)("%s is HTML that can be relied on, dated, and links to the others", async (kind) => {
    const { html, style } = legalPage(kind, "<p>Who we are</p><ul><li>x</li></ul>", at, "Europe/Oslo", home().school)
    expect(await problems(html)).toEqual([])
    expect(html).toContain("3 December 2026")
    expect(html).toContain('<a href="/terms">Terms</a>')
    expect(html).toContain(`<style>${style}</style>`)
  })
})
