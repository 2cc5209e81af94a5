// Files of people: how they are written (The Unicode Standard 3.10 on byte order marks; RFC 4180; the rest from memory and common
// practice), what their columns are, and what must not come in.
import Papa from "papaparse"
import { describe, expect, it } from "vitest"
import { encodingOf, guessRoles, readingOf, readLine, secretIn } from "./import"

const utf16 = (text: string, le: boolean, bom = true) => {
  const units = [...(bom ? "\uFEFF" : ""), ...text].flatMap((c) => {
    const n = c.codePointAt(0)!
    return le ? [n & 255, n >> 8] : [n >> 8, n & 255]
  })
  return Uint8Array.from(units)
}
const utf8 = (text: string) => new TextEncoder().encode(text)

describe("how a file is written", () => {
  const text = "email;name\nines@s.example;Inès\n"
  it.each([
    ["UTF-8", utf8(text), "utf-8"],
    ["UTF-8 with a mark", utf8(`\uFEFF${text}`), "utf-8"],
    ["UTF-8, cut in the middle of a letter", utf8("è").subarray(0, 1), "utf-8"],
    ["UTF-16, little end first", utf16(text, true), "utf-16le"],
    ["UTF-16, big end first", utf16(text, false), "utf-16be"],
    ["UTF-16 without a mark", utf16(text, true, false), "utf-16le"],
    ["UTF-16, big, without a mark", utf16(text, false, false), "utf-16be"],
    ["Windows-1252", Uint8Array.from([...utf8("name\nIn"), 0xe8, ...utf8("s\n")]), "windows-1252"],
    ["nothing", new Uint8Array(), "utf-8"],
  ] as const)("%s", (_, bytes, encoding) => expect(encodingOf(bytes)).toBe(encoding))

  it.each([
    ["email,name\na@s.example,A\n", ",", true],
    ["email;name\na@s.example;A\n", ";", true],
    ["name\temail\nA\ta@s.example\n", "\t", true],
    ["a@s.example|A\nb@s.example|B\n", "|", false],
    ['"a@s.example","A, B"\r\n"b@s.example","C ""D"""\r\n', ",", false],
  ])("%j", (text, delimiter, head) => expect(readingOf(text, "utf-8")).toEqual({ encoding: "utf-8", delimiter, head }))
})

// A corpus of odd files, written out; RFC 4180 by its sections, the others as they are met (common practice).
describe("odd files", () => {
  const rows = (text: string, delimiter = ",") =>
    Papa.parse<string[]>(text, { delimiter, skipEmptyLines: "greedy" }).data
  it.each([
    [
      "2.1, each line a record",
      "aaa,bbb\r\nzzz,yyy\r\n",
      [
        ["aaa", "bbb"],
        ["zzz", "yyy"],
      ],
    ],
    [
      "2.2, without a last break",
      "aaa,bbb\r\nzzz,yyy",
      [
        ["aaa", "bbb"],
        ["zzz", "yyy"],
      ],
    ],
    ["2.5, quoted or not", '"aaa",bbb\r\n', [["aaa", "bbb"]]],
    ["2.6, breaks and commas within quotes", '"aaa","b\r\nb,b"\r\n', [["aaa", "b\r\nb,b"]]],
    ["2.7, a quote is doubled", '"aaa","b""bb"\r\n', [["aaa", 'b"bb']]],
    [
      "lone line feeds",
      "a,b\nc,d\n",
      [
        ["a", "b"],
        ["c", "d"],
      ],
    ],
    [
      "lone carriage returns",
      "a,b\rc,d\r",
      [
        ["a", "b"],
        ["c", "d"],
      ],
    ],
    [
      "empty lines",
      "a,b\n\n\nc,d\n \n",
      [
        ["a", "b"],
        ["c", "d"],
      ],
    ],
    ["short and long lines", "a\nb,c,d\n", [["a"], ["b", "c", "d"]]],
  ])("%s", (_, text, expected) => expect(rows(text)).toEqual(expected))
})

describe("what the columns are", () => {
  it.each([
    [
      ["Email Address", "First Name", "Last Name", "Tags"],
      ["email", "first-name", "last-name", "tags"],
    ],
    [
      ["Vorname", "Nachname", "E-Mail", "Zeitzone"],
      ["first-name", "last-name", "email", "zone"],
    ],
    [
      ["Full name", "mail", "Second e-mail", "Notes"],
      ["name", "email", "skip", "skip"],
    ],
  ])("by their names: %j", (head, roles) => expect(guessRoles(head, [])).toEqual(roles))
  it("by what stands in them", () => {
    expect(
      guessRoles(null, [
        ["A", "a@s.example"],
        ["B", "b@s.example"],
      ]),
    ).toEqual(["skip", "email"])
    expect(guessRoles(["Email consent", "Contact"], [["yes", "a@s.example"]])).toEqual(["skip", "email"])
    expect(guessRoles(["email", "password"], [["a@s.example", "x"]])).toEqual(["email", "skip"])
  })
  it("tells what was somebody's secret", () => {
    expect(secretIn("Passwort", [])).toBe("password")
    // A test number of the card schemes, as every processor prints it.
    expect(secretIn("number", ["4242 4242 4242 4242"])).toBe("card")
    expect(secretIn("number", ["4242 4242 4242 4241"])).toBeNull()
    // The example of ISO 13616.
    expect(secretIn("account", ["GB82 WEST 1234 5698 7654 32"])).toBe("bank")
    expect(secretIn("x", ["$2b$10$N9qo8uLOickgx2ZMRZoMyeIjZAgcfl7p92ldGxad68LJZdL17lhWy"])).toBe("hash")
    expect(secretIn("phone", ["0123 456 789"])).toBeNull()
  })
})

describe("a line", () => {
  const as = ["email", "first-name", "last-name", "tags", "zone"] as const
  it("is read by what its columns are", () => {
    expect(readLine([" Ines@S.example ", "Inès", "de la\nCruz", "a; b|a", "Europe/Oslo"], as)).toMatchObject({
      address: { canonical: "ines@s.example" },
      name: "Inès de la Cruz",
      tags: ["a", "b"],
      zone: "Europe/Oslo",
    })
    expect(readLine(["a@s.example"], as)).toMatchObject({ name: "", tags: [], zone: null })
    expect(readLine(["a@s.example", "", "", "", "Mars/Phobos"], as)).toMatchObject({ zone: null })
  })
  it.each([
    [["", "x"], "no-address"],
    [["nobody"], "not-an-address"],
    [["a@s.example\nBcc: b@s.example"], "not-an-address"],
    [["a@s.example", "x".repeat(10_001)], "too-long"],
  ])("%j is refused", (cells, why) => expect(readLine(cells, as)).toBe(why))
  it("keeps formulas and links out of names that go into e-mails", () => {
    const line = readLine(["a@s.example", '=HYPERLINK("https://evil.example")', ""], as)
    expect(typeof line === "object" && line.name).not.toContain("evil.example")
  })
})
