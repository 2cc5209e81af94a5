// Read back by an independent parser (ical.js, RFC 6350).
import fc from "fast-check"
import ICAL from "ical.js"
import { expect, it } from "vitest"
import { vcard } from "./vcard"

const read = (card: string) => {
  const [, properties] = ICAL.parse(card) as unknown as [string, [string, object, string, ...string[]][]]
  const of = (name: string) => properties.find(([n]) => n === name)?.slice(3)
  return { name: of("fn"), email: of("email"), tags: of("categories"), zone: of("tz"), uid: of("uid") }
}
const said = fc
  .string({ unit: "grapheme", minLength: 1, maxLength: 90 })
  .map((t) => t.replace(/[\p{Cc}\r\n]/gu, " ").trim() || "x")

it("comes back as it went, whatever is in a name, and in lines of 75 octets", () => {
  fc.assert(
    fc.property(said, fc.array(said, { maxLength: 4 }), (name, tags) => {
      const card = vcard({ uid: "urn:heron:1", name, email: "a@s.example", zone: "Europe/Oslo", tags, changed: 0 })
      for (const line of card.split("\r\n")) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75)
      const back = read(card)
      expect(back.name).toEqual([name])
      expect(back.tags ?? []).toEqual(tags)
      expect(back.email).toEqual(["a@s.example"])
    }),
    { seed: 50, numRuns: 300 },
  )
})

it("is called by the address where there is no name", () => {
  expect(read(vcard({ uid: "x", name: "", email: "a@s.example", zone: "UTC", tags: [], changed: 0 }))).toMatchObject({
    name: ["a@s.example"],
    tags: undefined,
  })
})
