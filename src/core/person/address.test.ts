import { describe, expect, it } from "vitest"
import { parseAddress } from "./address"
import { parseName } from "./name"

describe("parseAddress", () => {
  it.each([
    // RFC 5322, 3.4.1 and 3.2.3: dot-atoms; RFC 6531: letters beyond ASCII; the domain as in RFC 5891.
    ["maren@school.example", "maren@school.example"],
    [" Maren@School.EXAMPLE ", "maren@school.example"],
    ["first.last+tag@sub.domain.example", "first.last+tag@sub.domain.example"],
    ["!#$%&'*+/=?^_`{|}~-@odd.example", "!#$%&'*+/=?^_`{|}~-@odd.example"],
    ["josé@bücher.example", "josé@xn--bcher-kva.example"],
    ["josé@BÜCHER.example", "josé@xn--bcher-kva.example"],
    ["用户@例子.example", "用户@xn--fsqu00a.example"],
  ])("%j is %s", (typed, canonical) => {
    expect(parseAddress(typed)?.canonical).toBe(canonical)
  })

  it("keeps josé and jose apart, and one josé written in two ways together", () => {
    expect(parseAddress("josé@x.example")?.canonical).not.toBe(parseAddress("jose@x.example")?.canonical)
    expect(parseAddress("jose\u0301@x.example")?.canonical).toBe(parseAddress("jos\u00e9@x.example")?.canonical)
  })

  it.each([
    [""],
    ["maren"],
    ["@school.example"],
    ["maren@"],
    ["maren@school"],
    ["a..b@x.example"],
    [".a@x.example"],
    ["a.@x.example"],
    ["a b@x.example"],
    ["a@x.example\r\nBcc: everyone@x.example"],
    ["a@x.example\u0000"],
    ["a@-x.example"],
    ["a@x-.example"],
    ["a@x..example"],
    ["a@[127.0.0.1]"],
    ["a@127.0.0.1"],
    ["<script>@x.example"],
    ["a@x.exam/ple"],
    ["a@b@c.example,"],
    [`${"a".repeat(65)}@x.example`],
    [`a@${"b".repeat(64)}.example`],
    [`a@${"b.".repeat(130)}example`],
    ["a@x\u200b.example"],
    ["\u202ea@x.example"],
  ])("refuses %j", (typed) => {
    expect(parseAddress(typed)).toBeNull()
  })
})

describe("parseName", () => {
  it.each([
    ["Aino", "Aino"],
    ["  Mary   Ann ", "Mary Ann"],
    ["", ""],
    ["さくら", "さくら"],
    ["نور", "نور"],
    ["O'Neil-Łuć", "O'Neil-Łuć"],
    ["<b>Bo</b>", "<b>Bo</b>"],
  ])("%j is %j", (typed, name) => {
    expect(parseName(typed)).toBe(name)
  })
  it.each([["a\nb"], ["a\r\nBcc: x"], ["a\u0000"], ["\u202Eevil"], ["x".repeat(81)], ["a\u2028b"]])(
    "refuses %j",
    (typed) => {
      expect(parseName(typed)).toBeNull()
    },
  )
})
