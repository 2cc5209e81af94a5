// Registering for a webinar over HTTP, from the page to the room and what follows: what a visitor is shown, what a stranger can't
// find out, and what somebody else can't do with a link.
import ICAL from "ical.js"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { doWhatIsDue, housekeeping } from "@/server/due-list"
import { pendingJoin } from "@/server/funnel/confirm"
import { savePage } from "@/server/funnel/edit"
import { pageRevision } from "@/server/funnel/funnel-view"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { readRiver } from "@/server/funnel/rollup"
import { callOff, listDates, moveDate } from "@/server/webinar/dates"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { filmOf } from "../support/film"
import { lastTo, thatTuesday } from "../support/school"
import { openShop, type Shop } from "../support/shop"

let shop: Shop
let web: FrontServer
let origin: string
let webinar: number
let funnel: number
let proven = ""
const start = Date.parse("2026-12-03T18:00:00Z")

beforeAll(async () => {
  shop = await openShop("registration", { start: thatTuesday })
  const { t } = shop
  const made = await newWebinarOf(t.s, "Why brine goes cloudy")
  if ("refused" in made) throw new Error(made.refused)
  webinar = made.id
  const saved = await saveWebinar(t.s, webinar, {
    recording: await filmOf(t.s),
    zone: "Europe/Oslo",
    seats: 2,
    offer: shop.offers.main,
    offerMinute: 40,
    prepare: "Have a jar ready.",
    when: {
      kind: "dates",
      dates: [
        { date: "2026-12-03", at: 19 * 60 },
        { date: "2026-12-10", at: 19 * 60 },
      ],
    },
  })
  expect(saved).toHaveProperty("value")
  const asked = await newFunnel(t.s, { goal: "fill-webinar", webinar })
  if ("refused" in asked) throw new Error(asked.refused)
  funnel = asked.funnel
  const published = await publishFunnel(t.s, funnel, true)
  expect(published).not.toHaveProperty("refused")
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await shop.end()
})

const page = "/why-brine-goes-cloudy"
const get = (path: string, cookie = "") =>
  fetch(origin + path, { redirect: "manual", headers: cookie ? { cookie } : {} })
const post = (path: string, fields: Record<string, string>, cookie = "") =>
  fetch(origin + path, {
    method: "POST",
    redirect: "manual",
    body: new URLSearchParams(fields),
    headers: cookie ? { cookie } : {},
  })
const cookieOf = (res: Response) => res.headers.getSetCookie().map((c) => c.split(";")[0]!)
const dates = async () => (await listDates(shop.t.s, webinar, "to-come")).map((d) => [d.registered, d.held])
const settle = () => doWhatIsDue(shop.t.s, "w")

/** A browser that opens the page: its cookie, and what stands in its form. */
async function opened(cookie = "") {
  const res = await get(page, cookie)
  const html = await res.text()
  return {
    res,
    html,
    cookie: cookie || cookieOf(res)[0]!,
    release: /name="release" value="([^"]*)"/.exec(html)?.[1] ?? "",
    choices: [...html.matchAll(/name="date" value="([^"]*)"/g)].map((m) => m[1]!),
  }
}
async function register(email: string, at = 0) {
  const form = await opened()
  const res = await post(
    page,
    { release: form.release, email, name: "Ines", zone: "America/Lima", website: "", date: form.choices[at] ?? "" },
    form.cookie,
  )
  return { res, cookie: form.cookie }
}
/** Presses the link of the last mail to somebody; gives the cookies of their browser. */
async function confirmed(email: string, cookie: string) {
  await settle()
  const link = /http:\/\/localhost:4799(\/confirm\/\S+)/.exec(lastTo(shop.t, email).text)![1]!
  const res = await post(link, {}, cookie)
  await settle()
  return { res, cookie: [cookie, ...cookieOf(res)].join("; ") }
}

describe("the page", () => {
  it("shows the dates with what is left, in a zone that is named, and is not kept", async () => {
    const { res, html, choices } = await opened()
    expect(res.headers.get("cache-control")).toBe("no-store")
    expect(choices).toHaveLength(2)
    expect(html).toContain('<time datetime="2026-12-03T18:00:00.000Z">Thursday 3 December at 19:00</time>')
    expect(html).toContain("2 seats left")
    expect(html).toContain("Europe/Oslo")
  })

  it("refuses without a date, with one of another webinar, and keeps what was typed", async () => {
    const form = await opened()
    for (const date of ["", "99999", "at:1764784800000", "<b>"]) {
      const res = await post(
        page,
        { release: form.release, email: "a@post.example", name: "", zone: "UTC", website: "", date },
        form.cookie,
      )
      expect(res.status).toBe(422)
      const html = await res.text()
      expect(html).toContain("Choose a date, please.")
      expect(html).toContain('value="a@post.example"')
    }
    expect(await dates()).toEqual([
      [0, 0],
      [0, 0],
    ])
  })
})

describe("a seat", () => {
  it("is held by the form, taken by the press, and shown; the e-mail has it for the calendar, and the way in", async () => {
    const first = await register("ines@post.example")
    expect(first.res.headers.get("location")).toBe(`${page}/your-seat`)
    expect(await dates()).toEqual([
      [0, 1],
      [0, 0],
    ])
    const before = await (await get(`${page}/your-seat`, first.cookie)).text()
    expect(before).toContain("Thursday 3 December at 19:00")
    expect(before).not.toContain("/room/")
    await settle()
    expect(lastTo(shop.t, "ines@post.example").subject).toContain("Why brine goes cloudy")
    const asked = await shop.t.s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM pending_join")
    expect(await pendingJoin(shop.t.s, asked!.id)).toMatchObject({ asked: "Why brine goes cloudy" })
    const press = await confirmed("ines@post.example", first.cookie)
    expect(press.res.headers.get("location")).toBe(`${page}/your-seat`)
    const after = await (await get(`${page}/your-seat`, press.cookie)).text()
    expect(after).toContain("This seat is yours")
    proven = press.cookie
    const mail = lastTo(shop.t, "ines@post.example")
    expect(mail.subject).toBe("Your seat: Why brine goes cloudy, Thursday 3 December at 13:00 (Lima time)")
    expect(mail.text).toContain("Have a jar ready.")
    expect(mail.calendar?.method).toBe("REQUEST")
    const room = /http:\/\/localhost:4799(\/room\/\S+)/.exec(mail.text)![1]!
    const file = await get(`${room.replace("/room/", "/calendar/")}.ics`)
    expect(file.headers.get("content-type")).toContain("text/calendar")
    const [sent, saved] = [mail.calendar!.content, await file.text()].map((text) => {
      const calendar = new ICAL.Component(ICAL.parse(text))
      ICAL.TimezoneService.register(calendar.getFirstSubcomponent("vtimezone")!)
      return new ICAL.Event(calendar.getFirstSubcomponent("vevent")!)
    }) as [ICAL.Event, ICAL.Event]
    expect(sent.uid).toBe(saved.uid)
    expect(sent.startDate.toJSDate().getTime()).toBe(start)
    expect(await dates()).toEqual([
      [1, 0],
      [0, 0],
    ])
  })

  it("is moved by one press of whom the device has proved to be; a stranger's form for the address moves nothing", async () => {
    const stranger = await register("ines@post.example", 1)
    expect(stranger.res.headers.get("location")).toBe(`${page}/your-seat`)
    expect((await dates()).map(([registered]) => registered)).toEqual([1, 0])
    const form = await opened(proven)
    expect(form.html).toContain('value="ines@post.example"')
    const take = (at: number) =>
      post(
        page,
        {
          release: form.release,
          email: "Ines@post.example",
          name: "Ines",
          zone: "UTC",
          website: "",
          date: form.choices[at]!,
        },
        proven,
      )
    for (const [at, seats] of [
      [1, [0, 1]],
      [0, [1, 0]],
    ] as const) {
      expect((await take(at)).headers.get("location")).toBe(`${page}/your-seat`)
      expect((await dates()).map(([registered]) => registered)).toEqual(seats)
      await settle()
    }
    expect(lastTo(shop.t, "ines@post.example").subject).toContain("3 December")
  })

  it("that is moved or called off is told, with the entry of the calendar under the same UID", async () => {
    const uid = (text: string) => /^UID:(.*)$/m.exec(text)?.[1]?.trim()
    const [first, second] = await listDates(shop.t.s, webinar, "to-come")
    const before = lastTo(shop.t, "ines@post.example").calendar!
    expect(await moveDate(shop.t.s, first!.id, { date: "2026-12-04", at: 19 * 60 })).toEqual({ ok: true })
    await settle()
    const moved = lastTo(shop.t, "ines@post.example")
    expect(moved.subject).toContain("now Friday 4 December at 13:00 (Lima time)")
    expect(uid(moved.calendar!.content)).toBe(uid(before.content))
    expect(Number(/^SEQUENCE:(\d+)/m.exec(moved.calendar!.content)![1])).toBeGreaterThan(
      Number(/^SEQUENCE:(\d+)/m.exec(before.content)![1]),
    )
    await moveDate(shop.t.s, first!.id, { date: "2026-12-03", at: 19 * 60 })
    await settle()
    // Somebody else's date is called off: only they hear of it.
    const other = await opened()
    await post(
      page,
      {
        release: other.release,
        email: "di@post.example",
        name: "Di",
        zone: "UTC",
        website: "",
        date: String(second!.id),
      },
      other.cookie,
    )
    await confirmed("di@post.example", other.cookie)
    const n = shop.t.sent.length
    expect(await callOff(shop.t.s, second!.id)).toEqual({ ok: true })
    await settle()
    expect(shop.t.sent.slice(n).map((m) => m.to.address)).toEqual(["di@post.example"])
    const off = lastTo(shop.t, "di@post.example")
    expect([off.calendar!.method, off.subject.slice(0, 10)]).toEqual(["CANCEL", "Called off"])
    expect(off.calendar!.content).toContain("STATUS:CANCELLED")
  })

  it("that nobody can have any more is refused in words, with the others to choose from", async () => {
    await register("bo@post.example")
    const { res } = await register("cy@post.example")
    expect(res.status).toBe(422)
    expect(await res.text()).toMatch(/full|All seats of that date are taken/)
    expect(await shop.t.s.db.row("SELECT 1 FROM pending_join WHERE email = 'cy@post.example'")).toBeUndefined()
  })
})

it("without double opt-in a new address has its seat at once, one that is known by its press; both see the same", async () => {
  const loaded = (await loadFunnel(shop.t.s.db, funnel))!
  const step = loaded.steps[0]!
  const publish = async (confirm: boolean) => {
    const blocks = step.page!.blocks.map((b) => (b.kind === "form" ? { ...b, confirm } : b))
    const revision = await pageRevision(shop.t.s.db, step.id)
    const saved = await savePage(shop.t.s, step.id, revision, { ...step.page!, blocks }, step.page!)
    expect(saved).toHaveProperty("revision")
    expect(await publishFunnel(shop.t.s, funnel, true)).not.toHaveProperty("refused")
    await web.front.live.refresh()
  }
  await publish(false)
  await saveWebinar(shop.t.s, webinar, { seats: 9 })
  const before = await dates()
  const [fresh, known] = [await register("new@post.example"), await register("di@post.example")]
  await settle()
  expect((await dates())[0]![0]).toBe(before[0]![0]! + 1)
  expect(lastTo(shop.t, "new@post.example").calendar?.method).toBe("REQUEST")
  expect(shop.t.sent.filter((m) => m.to.address === "new@post.example")).toHaveLength(1)
  const see = async (cookie: string) => (await get(`${page}/your-seat`, cookie)).text()
  expect(await see(fresh.cookie)).toBe(await see(known.cookie))
  await saveWebinar(shop.t.s, webinar, { seats: 2 })
  await shop.t.s.db.write("DELETE FROM person WHERE email = 'new@post.example'")
  await shop.t.s.db.write(
    "DELETE r FROM registration r JOIN pending_join p ON p.id = r.pending_join_id WHERE p.email = 'di@post.example' AND r.state = 'held'",
  )
  await publish(true)
})

describe("reminders", () => {
  const planned = async (email: string) =>
    (
      await shop.t.s.db.rows<{ subject: string; due: Date }>(
        "SELECT x.subject, m.due_at AS due FROM mail m JOIN sequence_mail x ON x.id = m.sequence_mail_id JOIN person p ON p.id = m.person_id WHERE p.email = ? AND m.state = 'due'",
        [email],
      )
    ).map((m) => [m.subject.split(":")[0], (start - m.due.getTime()) / 60_000])

  it("are planned by the start of the date somebody has, and planned anew when it moves", async () => {
    await settle()
    expect(await planned("ines@post.example")).toEqual([["In a day", 1440]])
    const [first] = await listDates(shop.t.s, webinar, "to-come")
    await moveDate(shop.t.s, first!.id, { date: "2026-12-05", at: 19 * 60 })
    await settle()
    expect(await planned("ines@post.example")).toEqual([["In a day", -1440]])
    await moveDate(shop.t.s, first!.id, { date: "2026-12-03", at: 19 * 60 })
    await settle()
    expect(await planned("ines@post.example")).toEqual([["In a day", 1440]])
  })

  it("come in time, each with the way into the room; whoever registers late gets those that are still true", async () => {
    shop.t.set(start - 1440 * 60_000)
    await settle()
    const mail = lastTo(shop.t, "ines@post.example")
    expect(mail.subject).toBe("In a day: Why brine goes cloudy")
    const go = /http:\/\/localhost:4799(\/go\/[^\s)>]+)/.exec(mail.text)![1]!
    expect((await get(go)).headers.get("location")).toMatch(/^\/room\//)
    shop.t.set(start - 180 * 60_000)
    await settle()
    const late = await register("late@post.example")
    await confirmed("late@post.example", late.cookie)
    await settle()
    expect(await planned("late@post.example")).toEqual([["In an hour", 60]])
    // Somebody whose reminders no worker looks at until it has begun.
    await saveWebinar(shop.t.s, webinar, { seats: 9 })
    const down = await register("down@post.example")
    await confirmed("down@post.example", down.cookie)
    const never = new Date("2100-01-01")
    await shop.t.s.db.write("UPDATE mail SET try_at = ? WHERE to_email = 'down@post.example' AND state = 'due'", [
      never,
    ])
    for (const before of [60, 10]) {
      shop.t.set(start - before * 60_000)
      await settle()
    }
    const got = (email: string) =>
      shop.t.sent
        .filter((m) => m.to.address === email && m.subject.startsWith("In "))
        .map((m) => m.subject.split(":")[0])
    expect(got("ines@post.example")).toEqual(["In a day", "In an hour", "In ten minutes"])
    expect(await shop.t.s.db.rows("SELECT DISTINCT not_after FROM mail WHERE sequence_mail_id IS NOT NULL")).toEqual([
      { not_after: new Date(start) },
    ])
    expect(got("late@post.example")).toEqual(["In an hour", "In ten minutes"])
    shop.t.set(start)
    await shop.t.s.db.write("UPDATE mail SET try_at = ? WHERE try_at = ?", [new Date(0), never])
    await settle()
    await settle()
    expect(got("down@post.example")).toEqual([])
    expect(
      await shop.t.s.db.row("SELECT ended_why FROM enrolment WHERE ended_at IS NOT NULL ORDER BY id DESC LIMIT 1"),
    ).toEqual({
      ended_why: "finished",
    })
  })
})

it("nobody who waits for their date has left the river, however far off it is", async () => {
  await housekeeping(shop.t.s)
  const loaded = (await loadFunnel(shop.t.s.db, funnel))!
  const range = { from: Date.parse("2026-11-01T00:00:00Z"), to: Date.parse("2026-12-10T00:00:00Z") }
  const river = await readRiver(shop.t.s, loaded, range)
  const seat = river.steps.find((x) => x.id === loaded.steps.find((y) => y.kind === "confirmation")!.id)!
  // It is nine days since she came.
  expect(seat.here).toBeGreaterThanOrEqual(2)
})

describe("the room", () => {
  const roomOf = (email: string) => {
    const mail = shop.t.sent.findLast((m) => m.to.address === email && m.calendar)
    return /http:\/\/localhost:4799(\/room\/\S+)/.exec(mail!.text)![1]!
  }

  it("opens before the start, lets in by a press, and not on a second device at once", async () => {
    const room = roomOf("ines@post.example")
    shop.t.set(start - 20 * 60_000)
    expect(await (await get(room)).text()).toContain("The room opens on")
    shop.t.set(start - 10 * 60_000)
    const door = await (await get(room)).text()
    expect(door).toContain("Go in")
    expect(door).not.toContain("<video")
    const press = await post(room, {})
    expect(press.status).toBe(303)
    const mine = cookieOf(press)[0]!
    expect(await (await get(room, mine)).text()).toContain('role="timer"')
    expect(await (await post(room, { beat: "1" }, mine)).json()).toMatchObject({ phase: "before", inMs: 600_000 })
    // Somebody else has the link: while this device is there, they are not let in as her.
    expect((await post(room, {})).status).toBe(409)
    expect((await post(room, { beat: "1" })).status).toBe(409)
    expect((await post(room, { beat: "1" }, "heron_test_room=1-00.x")).status).toBe(409)
    expect((await get(`${room}x`)).status).toBe(404)
  })

  it("tells where it stands by the server's clock, shows the offer from its minute on, and ends", async () => {
    const room = roomOf("ines@post.example")
    shop.t.set(start + 60_000)
    const mine = cookieOf(await post(room, {}))[0]!
    const beat = async () => (await post(room, { beat: "1" }, mine)).json()
    expect(await beat()).toEqual({ phase: "running", second: 60, offer: null })
    for (let m = 1.25; m <= 50; m += 0.25) {
      shop.t.set(start + m * 60_000)
      await beat()
    }
    await web.front.live.refresh()
    const late = (await beat()) as { offer: string }
    expect(late.offer).toContain(`${room}/offer`)
    shop.t.set(start + 3_600_000 + 20_000)
    expect(await (await get(room, mine)).text()).toContain("This webinar is over.")
    expect(await beat()).toEqual({ phase: "over" })
  })

  it("leads on by what came of it: whoever was there comes to the sale", async () => {
    await settle()
    await settle()
    const came = await shop.t.s.db.row<{ came: string; step: string }>(
      "SELECT r.came, s.kind AS step FROM registration r JOIN journey j ON j.person_id = r.person_id AND j.funnel_id = ? JOIN step s ON s.id = j.rest_step_id JOIN person p ON p.id = r.person_id WHERE r.state = 'registered' AND p.email = 'ines@post.example'",
      [funnel],
    )
    expect(came).toEqual({ came: "attended", step: "sales" })
  })
})
