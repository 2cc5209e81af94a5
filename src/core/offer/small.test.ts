import { describe, expect, it } from "vitest"
import { type Coupon, couponKey, couponRefusal } from "./coupon"
import { availability, giftsOf, isFree, type Offer, offersWithin } from "./offer"
import { statementFrom, statementProblem } from "./statement"

describe("a coupon", () => {
  const coupon: Coupon = {
    id: 1,
    code: "BRINE-10",
    discount: { kind: "amount", value: 1000, on: "first" },
    currency: "EUR",
    offers: [7],
    from: 100,
    until: 200,
    usesInAll: 10,
    usesPerPerson: 1,
  }
  const buying = { at: 150, offers: [7, 8], currency: "EUR" }
  it.each([
    ["counts", {}, {}, null],
    ["not yet", {}, { at: 99 }, "not-yet"],
    ["from its first instant", {}, { at: 100 }, null],
    ["over at its last instant", {}, { at: 200 }, "over"],
    ["used up", { used: 10 }, {}, "used-up"],
    ["used by them", { usedByThem: 1 }, {}, "used-by-them"],
    ["for something else", {}, { offers: [8] }, "not-for-this"],
    ["an amount in another currency", {}, { currency: "NOK" }, "other-currency"],
  ])("%s", (_, use, change, refusal) => {
    expect(couponRefusal(coupon, { used: 0, usedByThem: 0, ...use }, { ...buying, ...change })).toBe(refusal)
  })
  it.each([
    ["brine-10", "BRINE10"],
    [" Brine 10 ", "BRINE10"],
    ["ＢＲＩＮＥ１０", "BRINE10"],
    ["'; DROP TABLE", "DROPTABLE"],
    ["", ""],
  ])("%j is typed for %j", (typed, key) => {
    expect(couponKey(typed)).toBe(key)
  })
})

describe("statement text (rules of the card trade: common practice)", () => {
  it.each([
    ["JUNIPER CROCK", null],
    ["Crock & Co, 24", null],
    ["ABCDEFGHIJKLMNOPQRSTUV", null],
    ["ABCDEFGHIJKLMNOPQRSTUVW", /At most 22/],
    ["Café", /“é”/],
    ["A<B school", /“<”/],
    ['The "Crock"', /“"”/],
    ["ABC", /At least 5/],
    ["12345", /letter/],
    ["", /At least 5/],
    ["     ", /At least 5/],
  ])("%j", (text, problem) => {
    if (problem === null) expect(statementProblem(text)).toBeNull()
    else expect(statementProblem(text)).toMatch(problem)
  })
  it.each([
    ["Juniper Crock", "JUNIPER CROCK"],
    ["Škola kvašení a nakládání zeleniny", "SKOLA KVASENI A NAKLAD"],
  ])("is taken from %j", (name, text) => {
    expect(statementFrom(name)).toBe(text)
    expect(statementProblem(text)).toBeNull()
  })
})

describe("an offer", () => {
  const offer = (id: number, gifts: Offer["gifts"], more: Partial<Offer> = {}): Offer => ({
    id,
    publicName: `Offer ${id}`,
    internalName: "",
    promise: "",
    pictureId: null,
    picture: null,
    currency: "EUR",
    gifts,
    terms: [{ id: 1, name: "", terms: { kind: "full", amount: 100 } }],
    pieces: null,
    perPerson: null,
    from: null,
    until: null,
    hidden: false,
    afterFailure: "ends",
    ...more,
  })
  const course = (n: number) => ({
    kind: "course" as const,
    course: n,
    title: `C${n}`,
    state: "live" as const,
    lessons: 1,
  })
  const part = (n: number) => ({ kind: "offer" as const, offer: n, title: `Offer ${n}` })
  it("gives what its bundle gives, each once, also where bundles go round in a circle", () => {
    const offers = new Map(
      [
        offer(1, [part(2), course(1)]),
        offer(2, [course(1), course(2), part(3)]),
        offer(3, [part(1), { kind: "post", title: "A jar" }]),
      ].map((o) => [o.id, o]),
    )
    expect(
      giftsOf(offers.get(1)!, offers)
        .map((g) => g.title)
        .sort(),
    ).toEqual(["A jar", "C1", "C2"])
    expect([...offersWithin(offers.get(1)!, offers)].sort()).toEqual([1, 2, 3])
  })
  it.each([
    [{}, 0, 10, "open"],
    [{ pieces: 3 }, 2, 10, "open"],
    [{ pieces: 3 }, 3, 10, "sold-out"],
    [{ from: 11 }, 0, 10, "not-yet"],
    [{ until: 10 }, 0, 10, "over"],
    [{ until: 11 }, 0, 10, "open"],
  ])("with %j, %i gone, at %i is %s", (limits, gone, at, expected) => {
    expect(availability(offer(1, [], limits), gone, at)).toBe(expected)
  })
  it("is free where all its terms are", () => {
    expect(isFree(offer(1, []))).toBe(false)
    expect(isFree(offer(1, [], { terms: [{ id: 1, name: "", terms: { kind: "free" } }] }))).toBe(true)
  })
})
