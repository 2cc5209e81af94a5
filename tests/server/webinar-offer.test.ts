// What a webinar leads to, from the room to the checkout and the replay: one deadline, the same wherever it is said, and kept to the second.
import { mkdtempSync, rmSync } from "node:fs"
import { tmpdir } from "node:os"
import { join } from "node:path"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { richChip } from "@/core/mail/chip"
import { untilWords } from "@/core/webinar/until"
import { type FrontServer, frontServer } from "@/front/server"
import { doWhatIsDue, housekeeping } from "@/server/due-list"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { placeOrder } from "@/server/ledger/place"
import { personalWords } from "@/server/mail/personal"
import { mailSchool } from "@/server/mail/school"
import { makeCoupon } from "@/server/offer/coupon"
import { everythingOf } from "@/server/person/erase"
import { makePerson } from "@/server/person/person"
import { httpMeeting } from "@/server/port/meeting"
import { sign } from "@/server/sign"
import { dateOf, listDates } from "@/server/webinar/dates"
import { beginLive, endLive, showOffer } from "@/server/webinar/live"
import { askPoll, closePoll, pollsOf } from "@/server/webinar/poll"
import { takeSeat } from "@/server/webinar/seat"
import { answerByMail, saidSince } from "@/server/webinar/talk"
import { seatDeadlines } from "@/server/webinar/until"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { openMeeting } from "@/standins/meeting/server"
import { filmOf } from "../support/film"
import { someVisitor, thatTuesday } from "../support/school"
import { formOf, openShop, type Shop } from "../support/shop"

let shop: Shop
let web: FrontServer
let origin: string
let webinar: number
let date: number
const start = Date.parse("2026-12-03T18:00:00Z")
/** Three days after Thursday 3 December, in Lima: Monday 7 December at 00:00 there, five hours behind UTC. */
const ends = Date.parse("2026-12-07T05:00:00Z")
type Guest = { person: number; registration: number; room: string; cookie: string; email: string }
let ann: Guest
let bo: Guest

beforeAll(async () => {
  shop = await openShop("webinar_offer", { start: thatTuesday })
  const { t } = shop
  const coupon = await makeCoupon(t.s, {
    code: "BRINE",
    givenOut: "the webinar",
    kind: "percent",
    value: 2_000,
    currency: null,
    on: "all",
    offers: [shop.offers.main],
    from: null,
    until: null,
    usesInAll: null,
    usesPerPerson: null,
  })
  const made = await newWebinarOf(t.s, "Why brine goes cloudy")
  if ("refused" in made || "refused" in coupon) throw new Error("refused")
  webinar = made.id
  const saved = await saveWebinar(t.s, webinar, {
    zone: "Europe/Oslo",
    host: "Maren",
    recording: await filmOf(t.s),
    offer: shop.offers.main,
    offerMinute: 40,
    deal: { coupon: coupon.id, days: 3 },
    replayDays: 3,
    chapters: [{ at: 90, title: "The salt" }],
    polls: [{ id: 1, minute: 10, question: "Is yours cloudy?", answers: ["Yes", "No"] }],
    when: { kind: "dates", dates: [{ date: "2026-12-03", at: 19 * 60 }] },
  })
  expect(saved).toHaveProperty("value")
  const asked = await newFunnel(t.s, { goal: "fill-webinar", webinar })
  if ("refused" in asked) throw new Error(asked.refused)
  expect(await publishFunnel(t.s, asked.funnel, true)).not.toHaveProperty("refused")
  date = (await listDates(t.s, webinar, "to-come"))[0]!.id
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
  ann = await guest("Ann")
  bo = await guest("Bo")
})
afterAll(async () => {
  await web.close()
  await shop.end()
})

const get = (path: string, cookie = "") => fetch(origin + path, { redirect: "manual", headers: { cookie } })
const post = (path: string, fields: Record<string, string>, cookie = "") =>
  fetch(origin + path, { method: "POST", redirect: "manual", body: new URLSearchParams(fields), headers: { cookie } })
const cookiesOf = (res: Response) =>
  res.headers
    .getSetCookie()
    .map((c) => c.split(";")[0]!)
    .join("; ")
const beat = async (g: Guest, more: Record<string, string> = {}) =>
  (await (await post(g.room, { beat: "1", ...more }, g.cookie)).json()) as { phase: string; offer: string | null }

async function guest(name: string, on = date): Promise<Guest> {
  const { s } = shop.t
  const email = `${name.toLowerCase()}@post.example`
  const who = { canonical: email, email, name, zone: "America/Lima", source: "direct", confirmed: true }
  const { person } = await s.db.transaction((tx) => makePerson(tx, who, shop.t.at()))
  const seat = await s.db.transaction((tx) => takeSeat(tx, on, person, shop.t.at()))
  if ("refused" in seat) throw new Error(seat.refused)
  const room = `/room/${sign(s.config.secret, "room", String(seat.registration))}`
  return { person, registration: seat.registration, room, cookie: "", email }
}
const goIn = async (g: Guest) => {
  g.cookie = cookiesOf(await post(g.room, {}))
}

/** The events that a browser is sent, until one of a kind has come. */
async function eventsUntil(g: Guest, kind: string): Promise<{ event: string; data: string }[]> {
  const stop = new AbortController()
  const res = await fetch(`${origin}${g.room}/live`, { signal: stop.signal, headers: { cookie: g.cookie } })
  const found: { event: string; data: string }[] = []
  let text = ""
  for await (const chunk of res.body as unknown as AsyncIterable<Uint8Array>) {
    text += new TextDecoder().decode(chunk)
    const parts = text.split("\n\n")
    text = parts.pop()!
    for (const p of parts)
      found.push({ event: /^event: (.*)$/m.exec(p)?.[1] ?? "", data: /^data: ?(.*)$/m.exec(p)?.[1] ?? "" })
    if (found.some((f) => f.event === kind)) break
  }
  stop.abort()
  return found
}

describe("a poll", () => {
  it("is asked from its minute on, answered once by each, and its result comes to everybody", async () => {
    shop.t.set(start + 5 * 60_000)
    await goIn(ann)
    await goIn(bo)
    expect(await pollsOf(shop.t.s.db, date)).toEqual([])
    const hearing = eventsUntil(ann, "poll")
    shop.t.set(start + 10 * 60_000)
    const told = (await hearing).find((e) => e.event === "poll")!
    const poll = JSON.parse(told.data) as { id: number; question: string; votes: number[] }
    expect(poll).toMatchObject({ question: "Is yours cloudy?", answers: ["Yes", "No"], votes: [0, 0], closed: false })
    const id = String(poll.id)
    const vote = async (g: Guest, answer: string, on = id) =>
      (await post(g.room, { poll: on, answer }, g.cookie)).status
    expect(await vote(ann, "0")).toBe(200)
    expect(await vote(ann, "1")).toBe(200)
    expect(await vote(bo, "1")).toBe(200)
    expect((await pollsOf(shop.t.s.db, date))[0]).toMatchObject({ votes: [0, 2] })
    // What isn't there to be chosen, isn't theirs to choose, or comes without a seat.
    expect(await vote(ann, "2")).toBe(409)
    expect(await vote(ann, "-1")).toBe(409)
    expect(await vote(ann, "0", "999")).toBe(409)
    expect((await post(ann.room, { poll: id, answer: "0" }, bo.cookie)).status).toBe(409)
    expect(await closePoll(shop.t.s, poll.id)).toEqual({ ok: true })
    expect(await vote(ann, "0")).toBe(409)
    expect(JSON.stringify(await everythingOf(shop.t.s.db, ann.person))).toContain('"answer":1')
    // Whoever comes back is told what they chose.
    const again = await eventsUntil(ann, "poll")
    expect(JSON.parse(again.find((e) => e.event === "mine")!.data)).toEqual({ [poll.id]: 1 })
  })

  it("can be asked on the spot, and refuses what nobody could answer", async () => {
    expect(await askPoll(shop.t.s, date, { question: "Salt?", answers: ["2 %", "3 %", " "] })).toHaveProperty("refused")
    expect(await askPoll(shop.t.s, date, { question: "Salt?", answers: ["3 %"] })).toHaveProperty("refused")
    expect(await askPoll(shop.t.s, date, { question: "Salt?", answers: ["2 %", "3 %"] })).toMatchObject({ ok: true })
    expect(await pollsOf(shop.t.s.db, date)).toHaveLength(2)
  })
})

describe("the price of a seat", () => {
  const words = () => untilWords(ends, "America/Lima")

  it("stands in the room from the minute of the offer on, with its end", async () => {
    shop.t.set(start + 39 * 60_000)
    expect((await beat(ann)).offer).toBeNull()
    shop.t.set(start + 40 * 60_000)
    await web.front.live.refresh()
    const { offer } = await beat(ann)
    // 290 less a fifth.
    expect(offer).toContain('<b class="amount">€232</b>')
    expect(offer).not.toContain("€290")
    expect(offer).toContain(words())
    expect(words()).toMatch(/Sunday,? 6 December at 23:59/)
    expect((await beat(ann, { have: "1" })).offer).toBeNull()
    // Without script the page says when, and where its replay will be.
    const plain = /<noscript>(.*?)<\/noscript>/.exec(await (await get(ann.room, ann.cookie)).text())![1]!
    expect(plain).toContain('datetime="2026-12-03T18:00:00.000Z"')
    expect(plain).toContain('href="/why-brine-goes-cloudy/replay"')
    expect(
      await shop.t.s.db.row("SELECT saw_offer_at AS saw, pressed_at AS pressed FROM registration WHERE id = ?", [
        ann.registration,
      ]),
    ).toEqual({
      saw: new Date(start + 40 * 60_000),
      pressed: null,
    })
  })

  it("goes along to the checkout by a press, and says the same in an e-mail", async () => {
    const pressed = await get(`${ann.room}/offer`, ann.cookie)
    expect([pressed.status, pressed.headers.get("location")]).toEqual([303, "/why-brine-goes-cloudy/offer/checkout"])
    const checkout = await (await get("/a-year/checkout", cookiesOf(pressed))).text()
    expect(checkout).toContain("BRINE")
    expect(checkout).toMatch(/data-way="amount-terms\d+">€232</)
    expect(checkout).toContain('<span>Today</span><b class="amount">€232</b>')
    expect(checkout).not.toContain(">€290<")
    expect(checkout).toContain(words())
    expect(
      await shop.t.s.db.row("SELECT pressed_at AS pressed FROM registration WHERE id = ?", [ann.registration]),
    ).toEqual({
      pressed: new Date(start + 40 * 60_000),
    })
    const school = (await mailSchool(shop.t.s.db))!
    const said = await personalWords(
      shop.t.s.db,
      { rich: [richChip(`deal-${webinar}`, "a while"), richChip(`replay-${webinar}`, "a while")], plain: [] },
      { person: ann.person, name: "Ann", zone: "America/Lima" },
      school,
      undefined,
      shop.t.at(),
    )
    expect(said[`deal-${webinar}`]).toBe(words())
    expect(said[`replay-${webinar}`]).toBe(words())
    expect(await seatDeadlines(shop.t.s.db, ann.registration, shop.t.at())).toEqual({ deal: ends, replay: ends })
  })

  it("stays as it was told, whatever becomes of the webinar and of where they are", async () => {
    await saveWebinar(shop.t.s, webinar, { replayDays: 9 })
    await shop.t.s.db.write("UPDATE person SET zone = 'Europe/Oslo' WHERE id = ?", [ann.person])
    expect(await seatDeadlines(shop.t.s.db, ann.registration, shop.t.at())).toEqual({ deal: ends, replay: ends })
    await shop.t.s.db.write("UPDATE person SET zone = 'America/Lima' WHERE id = ?", [ann.person])
  })

  // The instant that is said is the instant that is kept.
  it.each([
    ["a second before its end", -1_000, true],
    ["at its end", 0, false],
    ["a second after it", 1_000, false],
  ])("is kept by the server: %s", async (_, off, well) => {
    shop.t.set(ends + off)
    const buyer = { path: "a-year/checkout", ip: "192.0.2.7", visitor: someVisitor(), source: "direct" }
    const seat = ann.registration
    const shown = await (await get("/a-year/checkout", ann.cookie)).text()
    expect(shown.includes("€232")).toBe(well)
    const seen = /name="seen" value="([^"]*)"/.exec(shown)![1]!
    const form = { ...(await formOf(shop, "fine")), code: "BRINE", seen }
    const placed = await placeOrder(shop.t.s, form, { ...buyer, seat })
    if (well) expect(placed).toHaveProperty("goTo")
    else expect(placed).toMatchObject({ refused: "form", says: expect.stringContaining("over") })
  })

  it("counts for nobody without a seat", async () => {
    shop.t.set(start + 3_600_000)
    const page = await (await get("/a-year/checkout?coupon=BRINE")).text()
    expect(page).toContain("whoever has a seat")
    expect(page).not.toContain("€232")
    const forged = await (await get("/a-year/checkout", `heron_test_seat=${ann.registration}.AAAA`)).text()
    expect(forged).not.toContain("€232")
  })
})

describe("a question", () => {
  it("is answered by e-mail, to whoever asked and once", async () => {
    shop.t.set(start + 50 * 60_000)
    expect((await post(bo.room, { say: "Is fuzz bad?", question: "1" }, bo.cookie)).status).toBe(200)
    expect((await post(bo.room, { say: "Hello" }, bo.cookie)).status).toBe(200)
    const [question, chat] = (await saidSince(shop.t.s.db, date, 0)).slice(-2)
    expect(await answerByMail(shop.t.s, question!.id, " ")).toHaveProperty("refused")
    expect(await answerByMail(shop.t.s, chat!.id, "Hello!")).toHaveProperty("refused")
    expect(await answerByMail(shop.t.s, question!.id, "Take it off with a spoon.")).toEqual({ ok: true })
    expect(await answerByMail(shop.t.s, question!.id, "Twice")).toHaveProperty("refused")
    await doWhatIsDue(shop.t.s, "w")
    const mail = shop.t.sent.findLast((m) => m.to.address === bo.email)!
    expect(mail.subject).toContain("Your question")
    expect(mail.text).toContain("Is fuzz bad?")
    expect(mail.text).toContain("Take it off with a spoon.")
  })
})

describe("the replay", () => {
  const page = "/why-brine-goes-cloudy/replay"

  it("is nothing to whoever shows no seat, and not there before its end", async () => {
    shop.t.set(start + 59 * 60_000)
    expect(await (await get(page)).text()).toContain("Open the link in your e-mail")
    expect(await (await get(page, ann.cookie)).text()).toContain("once the webinar is over")
  })

  it("plays for whoever had one, with chapters, the offer and its end; pressed, it leads to the checkout", async () => {
    shop.t.set(start + 2 * 3_600_000)
    await doWhatIsDue(shop.t.s, "w")
    await housekeeping(shop.t.s)
    const html = await (await get(page, ann.cookie)).text()
    expect(html).toContain("<video controls")
    expect(html).toContain("The salt")
    expect(html).toContain('data-at="2400"')
    expect(html).toContain(untilWords(ends, "America/Lima"))
    const pressed = await get(`${page}?offer=1`, ann.cookie)
    expect(pressed.headers.get("location")).toBe("/why-brine-goes-cloudy/offer/checkout")
    // A room that is over leads here, too.
    expect(await (await get(ann.room, ann.cookie)).text()).toContain(page)
  })

  it("ends at the second that was told, and leads on to the page one chose", async () => {
    shop.t.set(ends - 1_000)
    expect((await get(page, ann.cookie)).status).toBe(200)
    shop.t.set(ends)
    const late = await get(page, ann.cookie)
    expect([late.status, late.headers.get("location")]).toEqual([303, "/why-brine-goes-cloudy/offer"])
    expect(await (await get(ann.room, ann.cookie)).text()).not.toContain(page)
  })
})

describe("a live date", () => {
  const live = Date.parse("2026-12-10T18:00:00Z")
  let meeting: Awaited<ReturnType<typeof openMeeting>>
  let folder: string
  let on: number
  let never: number
  let guestOf: Guest
  let waiting: Guest

  beforeAll(async () => {
    shop.t.set(live - 86_400_000)
    folder = mkdtempSync(join(tmpdir(), "heron-meeting-"))
    meeting = await openMeeting(folder, "the key")
    const made = await newWebinarOf(shop.t.s, "Ask me anything")
    if ("refused" in made) throw new Error(made.refused)
    await saveWebinar(shop.t.s, made.id, {
      zone: "UTC",
      offer: shop.offers.main,
      minutes: 30,
      when: {
        kind: "dates",
        dates: [
          { date: "2026-12-10", at: 18 * 60 },
          { date: "2026-12-11", at: 18 * 60 },
        ],
      },
    })
    const [first, second] = await listDates(shop.t.s, made.id, "to-come")
    on = first!.id
    never = second!.id
    guestOf = await guest("Cy", on)
    waiting = await guest("Di", never)
  })
  afterAll(() => {
    meeting.server.closeAllConnections()
    meeting.server.close()
    rmSync(folder, { recursive: true })
  })
  const withMeeting = () => ({
    ...shop.t.s,
    meeting: httpMeeting({ url: `http://127.0.0.1:${meeting.port}`, key: "the key" }),
  })

  it("begins when its host begins, is heard while it runs, and ends when they end it", async () => {
    shop.t.set(live - 5 * 60_000)
    // A device that has shown a seat keeps it beside another.
    const both = cookiesOf(await post(guestOf.room, {}, bo.cookie))
    expect(both).toContain(`_seat=${guestOf.registration}-${bo.registration}.`)
    guestOf.cookie = both
    expect(await beat(guestOf)).toMatchObject({ phase: "before" })
    shop.t.set(live + 60_000)
    expect(await beat(guestOf)).toMatchObject({ phase: "waiting" })
    expect(await beginLive(shop.t.s, on)).toHaveProperty("refused")
    const away = { ...shop.t.s, meeting: httpMeeting({ url: "http://127.0.0.1:9", key: "" }) }
    expect(await beginLive(away, on)).toMatchObject({ refused: expect.stringContaining("can't be reached") })
    expect(await beat(guestOf)).toMatchObject({ phase: "waiting" })
    const hearing = eventsUntil(guestOf, "turn")
    // The room has been looked at once before anything changes.
    await new Promise((r) => setTimeout(r, 700))
    expect(await beginLive(withMeeting(), on)).toEqual({ ok: true })
    expect((await hearing).some((e) => e.event === "turn")).toBe(true)
    shop.t.set(live + 180_000)
    expect(await beat(guestOf)).toMatchObject({ phase: "running", second: 120 })
    const key = sign(shop.t.s.config.secret, "meeting", String(on))
    const { url } = withMeeting().meeting.streamOf(key)
    expect((await fetch(url)).headers.get("content-type")).toBe("video/mp4")
    const part = await fetch(url, { headers: { range: "bytes=0-99" } })
    expect([part.status, (await part.arrayBuffer()).byteLength]).toEqual([206, 100])
    // Nobody else can begin or end a room of the service.
    expect((await fetch(url.replace("streams", "rooms"), { method: "DELETE" })).status).toBe(401)
    expect(await showOffer(shop.t.s, on)).toEqual({ ok: true })
    expect((await beat(guestOf)).offer).toContain("/offer")
    shop.t.set(live + 20 * 60_000)
    expect(await endLive(withMeeting(), on)).toEqual({ ok: true })
    expect(await endLive(withMeeting(), on)).toHaveProperty("refused")
    expect(await beat(guestOf)).toEqual({ phase: "over" })
    expect((await fetch(url)).status).toBe(404)
    shop.t.set(live + 21 * 60_000)
    await doWhatIsDue(shop.t.s, "w")
    const came = await shop.t.s.db.row("SELECT came FROM registration WHERE id = ?", [guestOf.registration])
    expect(came).toEqual({ came: "missed" })
  })

  it("that its host never begins is nobody's miss: whoever has a seat is told", async () => {
    shop.t.set(live + 86_400_000 + 31 * 60_000)
    await doWhatIsDue(shop.t.s, "w")
    expect(await dateOf(shop.t.s, (await webinarOfDate(never))!, never)).toMatchObject({ calledOff: true, over: true })
    expect(await shop.t.s.db.row("SELECT came, state FROM registration WHERE id = ?", [waiting.registration])).toEqual({
      came: null,
      state: "called-off",
    })
    expect(shop.t.sent.findLast((m) => m.to.address === waiting.email)!.subject).toContain("Called off")
    expect(await beginLive(withMeeting(), never)).toHaveProperty("refused")
  })
  const webinarOfDate = async (id: number) =>
    (await shop.t.s.db.row<{ id: number }>("SELECT webinar_id AS id FROM webinar_date WHERE id = ?", [id]))?.id
})
