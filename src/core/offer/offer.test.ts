import { describe, expect, it } from "vitest"
import { availability, giftsOf, isFree, type Offer, offersWithin } from "./offer"

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
    refundDays: null,
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
