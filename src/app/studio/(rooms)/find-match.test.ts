// Looking for things by the words people use for them (common practice).
import { describe, expect, it } from "vitest"
import { type FindMatch, matches } from "./find-match"

const all: FindMatch[] = [
  { group: "Settings", name: "Tax", href: "/tax", also: ["VAT", "sales tax"] },
  { group: "Settings", name: "Mail server", href: "/mail", also: ["SMTP", "sending"] },
  { group: "Courses", name: "The First Crock", href: "/crock" },
  { group: "Courses", name: "Crème fraîche", href: "/creme" },
]
const names = (typed: string) => matches(all, typed).map((m) => m.name)

describe("what is found", () => {
  it.each([
    ["vat", ["Tax"]],
    ["sales tax", ["Tax"]],
    ["smtp", ["Mail server"]],
    ["crock first", ["The First Crock"]],
    ["creme", ["Crème fraîche"]],
    ["CRÈME", ["Crème fraîche"]],
    ["c", ["Crème fraîche", "The First Crock"]],
    ["no such thing", []],
    ["crock smtp", []],
  ])("by “%s”: %j", (typed, expected) => expect(names(typed)).toEqual(expected))

  it("says by which word, and marks what was typed in the name", () => {
    expect(matches(all, "vat")[0]?.by).toEqual(["VAT"])
    expect(matches(all, "tax")[0]?.by).toEqual([])
    expect(matches(all, "crem")[0]?.pieces).toEqual([
      { text: "Crèm", hit: true },
      { text: "e fraîche", hit: false },
    ])
    // A letter that becomes two in small letters moves nothing.
    expect(matches([{ group: "x", name: "İzmir tax", href: "/" }], "tax")[0]?.pieces.at(-1)).toEqual({
      text: "tax",
      hit: true,
    })
  })
})
