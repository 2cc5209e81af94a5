import { describe, expect, it } from "vitest"
import { type Brought, oddities } from "./odd"

const usual: Brought = { clicks: 120, joins: 9, sales: 4, refunded: 1, fromOneConnection: 1, quietDays: 3 }

describe("what is odd", () => {
  // Rules of thumb, ours.
  it.each([
    ["nothing", {}, []],
    ["many clicks and nobody who joined", { clicks: 200, joins: 0, sales: 0 }, ["clicks-only"]],
    ["some clicks and nobody yet", { clicks: 199, joins: 0, sales: 0 }, []],
    ["every sale refunded", { sales: 2, refunded: 2 }, ["all-refunded"]],
    ["the one sale refunded", { sales: 1, refunded: 1 }, []],
    ["most sales from one connection", { sales: 4, fromOneConnection: 3 }, ["one-connection"]],
    ["half of them", { sales: 6, fromOneConnection: 3 }, []],
    ["a family of two", { sales: 2, fromOneConnection: 2 }, []],
    ["nothing for two months", { quietDays: 60 }, ["quiet"]],
    ["not begun", { clicks: 0, joins: 0, sales: 0, refunded: 0, quietDays: null }, []],
  ] as [string, Partial<Brought>, string[]][])("%s", (_, more, kinds) => {
    expect(oddities({ ...usual, ...more }).map((o) => o.kind)).toEqual(kinds)
  })
})
