// Fields of a person: what is typed in a form or stands in a file, and how it is kept. Dates by ISO 8601; the rest common practice.
import { describe, expect, it } from "vitest"
import { askHtml } from "../page/ask"
import { type Field, numberIn, readValue, showValue } from "./field"

const of = (kind: Field["kind"], choices: Field["choices"] = []): Field => ({
  id: 7,
  label: "Jar & lid",
  kind,
  choices,
})
const kitchen = of("choice", [
  { id: 31, says: "In the kitchen" },
  { id: 32, says: "32" },
])
const eats = of("yes-no", [
  { id: 41, says: "Yes" },
  { id: 42, says: "No" },
])

describe("what is typed", () => {
  it.each<[Field, string, string | null]>([
    [of("text"), "  two\nlines ", "two lines"],
    [of("text"), "a\u202Eb\u0000c", "a b c"],
    [of("text"), "", ""],
    [of("text"), "x".repeat(501), null],
    [of("number"), "12", "12"],
    [of("number"), "-7,50", "-7.5"],
    [of("number"), "+0.0", "0"],
    [of("number"), "1.234,5", null],
    [of("number"), "1e5", null],
    [of("number"), "twelve", null],
    [of("date"), "2024-02-29", "2024-02-29"],
    [of("date"), "2023-02-29", null],
    [of("date"), "2024-02-29T10:00:00Z", "2024-02-29"],
    [of("date"), "9.3.1984", "1984-03-09"],
    [of("date"), "3/4/2026", null],
    [of("date"), "0000-01-01", null],
    [kitchen, "31", "31"],
    [kitchen, "in the KITCHEN", "31"],
    [kitchen, "32", "32"],
    [kitchen, "cellar", null],
    [eats, "y", "41"],
    [eats, "FALSE", "42"],
    [eats, "42", "42"],
    [eats, "perhaps", null],
  ])("%j: %j is kept as %j", (field, typed, kept) => expect(readValue(field, typed)).toBe(kept))

  it("is shown in the school's words, and not at all where the choice is gone", () => {
    expect(showValue(kitchen, "31")).toBe("In the kitchen")
    expect(showValue(kitchen, "99")).toBeNull()
    expect(showValue(of("number"), "7.5")).toBe("7.5")
  })

  it("is a number where it reads as one", () =>
    expect(["12", "4,5", "-1", "", "7 jars", "0x10"].map(numberIn)).toEqual([12, 4.5, -1, null, null, 16]))
})

describe("a form asks for it", () => {
  it("with a label, what was typed, and nothing that is markup", () => {
    const html = askHtml({ ...of("text"), required: true }, '"><script>').text
    expect(html).toContain('<label for="field-7" dir="auto">Jar &amp; lid</label>')
    expect(html).toContain(' required maxlength="500" value="&quot;&gt;&lt;script&gt;"')
  })
  it("as a list to choose from, with what was chosen", () => {
    const html = askHtml({ ...kitchen, required: false }, "32").text
    expect(html).toContain('<option value="">Please choose</option><option value="31">In the kitchen</option>')
    expect(html).toContain('<option value="32" selected>32</option>')
  })
  it.each(["number", "date"] as const)("with the keyboard for a %s", (kind) =>
    expect(askHtml({ ...of(kind), required: false }, "").text).toMatch(/inputmode="decimal"|type="date"/),
  )
})
