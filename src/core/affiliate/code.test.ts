import { describe, expect, it } from "vitest"
import { codeOfSource, sourceOf, sourceOfVia } from "../source"
import { affiliateLink, codeOf, isCode, parseVia, shortLink, subOf, viaText } from "./code"

describe("what stands in a link", () => {
  it.each([
    ["ada", { code: "ada", sub: "" }],
    ["Ada.Letter", { code: "ada", sub: "letter" }],
    ["ada-fern.market-stall", { code: "ada-fern", sub: "market-stall" }],
    ["ada.", null],
    [".ada", null],
    ["a", null],
    ["ada.x.y", null],
    ["ada fern", null],
    ["<ada>", null],
    ["a".repeat(41), null],
    ["", null],
    [null, null],
  ])("%j", (typed, read) => {
    expect(parseVia(typed)).toEqual(read)
    if (read) expect(parseVia(viaText(read))).toEqual(read)
  })
  it.each([
    ["Ada Fern", [], "ada-fern"],
    ["Ada Fern", ["ada-fern"], "ada-fern-2"],
    ["Łucja Ørsted", [], "lucja-orsted"],
    ["Ελένη Καρά", [], "eleni-kara"],
    ["山田", [], "friend"],
    ["山田", ["friend", "friend-2"], "friend-3"],
    ["x", [], "x-1"],
    ["A very long name that goes on and on and on", [], "a-very-long-name-that-goes-on"],
  ])("a code for %j beside %j is %j", (name, taken, code) => {
    expect(codeOf(name, new Set(taken))).toBe(code)
    expect(isCode(code)).toBe(true)
  })
  it("a name for a place becomes what can stand in a link", () => {
    expect(["Garden letter, May", "  ", "Söndag!"].map(subOf)).toEqual(["garden-letter-may", "", "sondag"])
  })
  it("links lead to a page, with what its address has already, or by a short path", () => {
    const via = { code: "ada", sub: "letter" }
    expect(affiliateLink("https://c.example", "a-year", via)).toBe("https://c.example/a-year?via=ada.letter")
    expect(affiliateLink("https://c.example", "get/5?coupon=X", via)).toBe(
      "https://c.example/get/5?coupon=X&via=ada.letter",
    )
    expect(shortLink("https://c.example", via)).toBe("https://c.example/by/ada/letter")
    expect(shortLink("https://c.example", { code: "ada", sub: "" })).toBe("https://c.example/by/ada")
  })
  it("a source that comes from outside can't say that it is an affiliate's", () => {
    expect(codeOfSource(sourceOfVia("ada"))).toBe("ada")
    expect(sourceOf(new URLSearchParams("utm_source=@ada"), "", "")).toBe("ada")
    expect(sourceOf(new URLSearchParams("utm_source=@@"), "", "")).toBe("direct")
    expect(codeOfSource("letter")).toBeNull()
  })
})
