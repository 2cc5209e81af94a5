// The checklist of an e-mail (common practice; where a mail is cut and what a phone shows are from memory).
import { describe, expect, it } from "vitest"
import { checkLetter, type LetterToCheck, textOf } from "./check"
import { plainChip, richChip } from "./chip"

const good: LetterToCheck = {
  subject: "Salt, and how much of it",
  plain: "",
  preview: "Two in a hundred, by weight",
  body: `<p>Hello ${richChip("first-name", "friend")}, <a href="https://s.example/">read</a></p>`,
  button: "Open",
  leads: "live",
  bytes: 4000,
  sender: true,
  postalAddress: true,
}
const rules = (m: Partial<LetterToCheck>) => checkLetter({ ...good, ...m }).map((f) => f.rule)

describe("a letter", () => {
  it("that is well has no finding", () => expect(rules({})).toEqual([]))

  it.each<[string, Partial<LetterToCheck>, string[]]>([
    ["no subject", { subject: " " }, ["no-subject"]],
    ["a subject that phones cut", { subject: "x".repeat(42) }, ["long-subject"]],
    ["a picture beside too little text", { body: '<p>Look!</p><img data-media="4" alt="A jar">' }, ["picture-only"]],
    [
      "a picture without words",
      { body: `${good.body}<p>${"word ".repeat(20)}</p><img data-media="4" alt="">` },
      ["no-alt"],
    ],
    ["a chip counts as a name", { subject: plainChip("first-name", "friend of the house and of its crocks") }, []],
    ["shouting", { subject: "SALT NOW" }, ["all-capitals"]],
    ["no preview line", { preview: "" }, ["no-preview"]],
    ["no text", { body: "<p> &nbsp;<br></p>" }, ["no-text"]],
    ["nobody it comes from", { sender: false }, ["no-sender"]],
    ["no postal address", { postalAddress: false }, ["no-address"]],
    ["many links", { body: `<p>${'<a href="https://s.example/">x</a> '.repeat(11)}</p>` }, ["many-links"]],
    ["a button without a target", { leads: "nowhere" }, ["leads-nowhere"]],
    ["a button to a draft", { leads: "not-live" }, ["leads-not-live"]],
    ["no button, no target", { leads: "nowhere", button: "" }, []],
    ["cut by readers", { bytes: 103_000 }, ["too-big"]],
    [
      "a word without another for it",
      { body: `<p>${richChip("course", "")}</p>`, subject: plainChip("teacher", "") },
      ["no-words", "no-words"],
    ],
    ["the school is always known", { body: `<p>${richChip("school", "")}</p>` }, []],
  ])("%s", (_, m, found) => expect(rules(m)).toEqual(found))

  it("stops only where it would be no letter", () => {
    const all = checkLetter({
      ...good,
      subject: "",
      body: "",
      preview: "",
      sender: false,
      postalAddress: false,
      leads: "nowhere",
    })
    expect(all.filter((f) => f.stops).map((f) => f.rule)).toEqual([
      "no-subject",
      "no-text",
      "no-sender",
      "leads-nowhere",
    ])
    expect(textOf("<p>a&nbsp;<b>b</b></p>")).toBe("a b")
  })
})
