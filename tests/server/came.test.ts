// What came of a webinar, counted out by hand for eight people of one date; what Today says of the next; the river of one date.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { doWhatIsDue, housekeeping } from "@/server/due-list"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { readRiver } from "@/server/funnel/rollup"
import { makePerson } from "@/server/person/person"
import { readToday } from "@/server/today"
import { registeredSoFar, whatCame } from "@/server/webinar/came"
import { listDates } from "@/server/webinar/dates"
import { noteOffer } from "@/server/webinar/room"
import { takeSeat } from "@/server/webinar/seat"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { filmOf } from "../support/film"
import { thatTuesday } from "../support/school"
import { buy, openShop, type Shop } from "../support/shop"

let shop: Shop
let webinar: number
let funnel: number
let dates: { id: number; starts: Date }[]
const start = Date.parse("2026-12-03T18:00:00Z")
const minutes = (n: number) => start + n * 60_000
const hour = 3_600_000

/** Minutes there: from and to; hours before the start at which they registered. */
const guests = [
  { name: "a", there: [0, 60], lead: 0.5, saw: true, pressed: true, bought: true },
  { name: "b", there: [0, 60], lead: 5, saw: true, pressed: true, bought: false },
  { name: "c", there: [2, 58], lead: 5, saw: true, pressed: false, bought: false },
  { name: "d", there: [0, 20], lead: 50, saw: false, pressed: false, bought: false },
  { name: "e", there: [0, 2], lead: 50, saw: false, pressed: false, bought: false },
  { name: "f", there: null, lead: 100, saw: false, pressed: false, bought: true },
  { name: "g", there: null, lead: 200, saw: false, pressed: false, bought: false },
  { name: "h", there: null, lead: 200, saw: false, pressed: false, bought: false },
] as const

beforeAll(async () => {
  shop = await openShop("came", { start: thatTuesday })
  const { t } = shop
  const made = await newWebinarOf(t.s, "Why brine goes cloudy")
  if ("refused" in made) throw new Error(made.refused)
  webinar = made.id
  await saveWebinar(t.s, webinar, {
    zone: "Europe/Oslo",
    host: "Maren",
    recording: await filmOf(t.s),
    offer: shop.offers.main,
    attended: 75,
    missed: 5,
    when: {
      kind: "dates",
      dates: [
        { date: "2026-12-03", at: 19 * 60 },
        { date: "2026-12-10", at: 19 * 60 },
      ],
    },
  })
  const asked = await newFunnel(t.s, { goal: "fill-webinar", webinar })
  if ("refused" in asked) throw new Error(asked.refused)
  funnel = asked.funnel
  expect(await publishFunnel(t.s, funnel, true)).not.toHaveProperty("refused")
  dates = await listDates(t.s, webinar, "to-come")
  const seat = (await loadFunnel(t.s.db, funnel))!.steps.find((x) => x.kind === "confirmation")!.id
  for (const [i, g] of guests.entries()) {
    t.set(start - g.lead * hour)
    const email = `${g.name}@post.example`
    const { person } = await t.s.db.transaction((tx) =>
      makePerson(
        tx,
        { canonical: email, email, name: g.name, zone: "UTC", source: i < 5 ? "letter" : "podcast", confirmed: true },
        t.at(),
      ),
    )
    await t.s.db.write(
      "INSERT INTO journey (funnel_id, visitor, person_id, source, begun_at, rest_step_id, rest_at, paid) VALUES (?, ?, ?, ?, ?, ?, ?, 0)",
      [funnel, Buffer.alloc(16, i + 1), person, i < 5 ? "letter" : "podcast", new Date(t.at()), seat, new Date(t.at())],
    )
    const taken = await t.s.db.transaction((tx) => takeSeat(tx, dates[0]!.id, person, t.at()))
    if ("refused" in taken) throw new Error(taken.refused)
    if (g.there)
      await t.s.db.write("INSERT INTO stay (registration_id, device, from_at, to_at) VALUES (?, ?, ?, ?)", [
        taken.registration,
        Buffer.alloc(8, 1),
        new Date(minutes(g.there[0])),
        new Date(minutes(g.there[1])),
      ])
    if (g.saw) await noteOffer(t.s.db, taken.registration, "saw", minutes(40))
    if (g.pressed) await noteOffer(t.s.db, taken.registration, "pressed", minutes(45))
  }
  t.set(minutes(61))
  await doWhatIsDue(t.s, "w")
  t.set(minutes(90))
  for (const g of guests) if (g.bought) await buy(shop, "fine", { email: `${g.name}@post.example` })
})
afterAll(() => shop.end())

describe("what came of it", () => {
  it("is counted of everybody with a seat", async () => {
    const found = (await whatCame(shop.t.s.db, webinar, null))!
    // Who stayed for two minutes came, too; the one who bought without coming has bought.
    expect(found.all).toEqual({ registered: 8, came: 5, stayed: 3, saw: 3, pressed: 2, bought: 2 })
    expect(found.bySource.map((r) => [r.source, r.registered, r.came, r.bought])).toEqual([
      ["letter", 5, 5, 1],
      ["podcast", 3, 0, 1],
    ])
    expect(found.byLead.map((r) => [r.lead, r.registered, r.came])).toEqual([
      ["hour", 1, 1],
      ["day", 2, 2],
      ["three-days", 2, 2],
      ["week", 1, 0],
      ["longer", 2, 0],
    ])
    expect(found.byReminder.reduce((n, r) => n + r.registered, 0)).toBe(8)
    const [curve] = found.curves
    expect(curve!.curve).toHaveLength(60)
    expect([0, 1, 10, 20, 40, 59].map((m) => curve!.curve[m])).toEqual([4, 4, 4, 3, 3, 2])
    expect(await whatCame(shop.t.s.db, webinar, dates[1]!.id)).toMatchObject({ all: { registered: 0 }, curves: [] })
    expect(await whatCame(shop.t.s.db, 999, null)).toBeUndefined()
  })

  it("led everybody on, once", async () => {
    const rests = await shop.t.s.db.rows<{ kind: string; n: number }>(
      "SELECT s.kind, COUNT(*) AS n FROM journey j JOIN step s ON s.id = j.rest_step_id WHERE j.funnel_id = ? GROUP BY 1 ORDER BY 1",
      [funnel],
    )
    expect(rests.map((r) => [r.kind, r.n])).toEqual([
      ["replay", 5],
      ["sales", 3],
    ])
    const begun = await shop.t.s.db.rows<{ name: string; n: number }>(
      "SELECT q.name, COUNT(*) AS n FROM enrolment e JOIN sequence q ON q.id = e.sequence_id WHERE e.funnel_id = ? GROUP BY q.id ORDER BY q.id",
      [funnel],
    )
    expect(begun.map((r) => [r.name.split(":")[0], r.n])).toEqual([
      ["Was there", 3],
      ["Replay", 5],
    ])
    // What follows says the end that is kept.
    shop.t.set(minutes(125))
    await doWhatIsDue(shop.t.s, "w")
    const letter = shop.t.sent.findLast((m) => m.to.address === "d@post.example")!
    expect(letter.subject).toBe("The replay: Why brine goes cloudy")
    expect(letter.text).toMatch(/until\s+Sunday\s+6\s+December\s+at\s+23:59/)
  })
})

it("the river of one date is of those who have a seat for it", async () => {
  await housekeeping(shop.t.s)
  const draft = (await loadFunnel(shop.t.s.db, funnel))!
  const range = { from: Date.parse("2026-11-01T00:00:00Z"), to: Date.parse("2027-01-01T00:00:00Z") }
  const { readRivers } = await import("@/server/funnel/rollup")
  const of = async (date: number | null) =>
    (await readRivers(shop.t.s, draft, range, [], date)).people.steps.find(
      (x) => x.id === draft.steps.find((y) => y.kind === "replay")!.id,
    )!.here
  expect(await of(dates[0]!.id)).toBe(5)
  expect(await of(dates[1]!.id)).toBe(0)
  expect((await readRiver(shop.t.s, draft, range)).steps.length).toBe(draft.steps.length)
})

describe("Today", () => {
  it("tells the next date, and how many it were as long before the last ones", async () => {
    // Two hours before the next: three had registered by two hours before the first one's start … the others, too, but one.
    shop.t.set(dates[1]!.starts.getTime() - 2 * hour)
    const { webinar: next } = await readToday(shop.t.s)
    expect(next).toMatchObject({ title: "Why brine goes cloudy", registered: 0, before: [7] })
    expect(
      await registeredSoFar(
        shop.t.s.db,
        { id: dates[1]!.id, webinar, starts: dates[1]!.starts },
        dates[1]!.starts.getTime() - 60 * hour,
      ),
    ).toEqual({ now: 0, before: [3] })
  })

  it("says what will go wrong", async () => {
    const words = async () => (await readToday(shop.t.s)).broken.map((b) => b.words).join("\n")
    const before = await words()
    expect(before).not.toContain("live on")
    await saveWebinar(shop.t.s, webinar, { recording: null })
    expect(await words()).toContain("no meeting service is connected")
    await shop.t.s.db.write("DELETE FROM live_page WHERE funnel_id = ?", [funnel])
    expect(await words()).toContain("Nobody can register for “Why brine goes cloudy”")
    await shop.t.s.db.write("UPDATE offer SET until_at = ? WHERE id = ?", [new Date(shop.t.at()), shop.offers.main])
    expect(await words()).toContain("can't be had when it is shown")
  })
})
