import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { gateOf } from "@/server/course/gates"
import { markDone, openLesson } from "@/server/course/in-lesson"
import { myCourses } from "@/server/course/learn"
import { doWhatIsDue } from "@/server/due-list"
import { confirmJoin, pendingJoin, sweepPendingJoins } from "@/server/funnel/confirm"
import { savePage } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { askOnceMore } from "@/server/funnel/once-more"
import { publishFunnel } from "@/server/funnel/release"
import { sendDue } from "@/server/mail/send"
import { leaveMails, receiver, returnToMails } from "@/server/mail/unsubscribe"
import { personStory } from "@/server/person/people"
import { admittedOf, signedIn, studioSessionOf } from "@/server/person/session"
import { askWayIn, enterByWayIn, renewLink, safePath } from "@/server/person/way-in"
import { join_, linkId, openSchool, someVisitor, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("join")
  school = await openSchool(t)
})
afterAll(() => t.end())

const count = async (sql: string, values: unknown[] = []) =>
  (await t.s.db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${sql}`, values))!.n
const mailTo = (email: string) => t.sent.filter((m) => m.to.address === email)

async function joinWhole(email: string, visitor = someVisitor()) {
  await join_(t, school, email, { visitor })
  await sendDue(t.s, "w")
  const done = await confirmJoin(t.s, linkId(t, mailTo(email).at(-1)!, "confirm"), { ip: "192.0.2.9" })
  if ("refused" in done) throw new Error(done.refused)
  return { ...done, person: signedIn(await admittedOf(t.s.db, done.session))!.person }
}

describe("joining", () => {
  it("goes from the form to the first lesson, with the consent kept", async () => {
    const visitor = someVisitor()
    expect(await join_(t, school, "Aino@Post.example", { visitor, name: "Aino" })).toEqual({
      goTo: "/first/check-your-inbox",
    })
    expect(await count("person")).toBe(0) // what a stranger types proves nothing
    await sendDue(t.s, "w")
    const mail = mailTo("Aino@Post.example")[0]!
    expect(mail.subject).toBe("One press, and “First” is yours")
    const id = linkId(t, mail, "confirm")
    expect(await pendingJoin(t.s, id)).toMatchObject({ state: "open", asked: "First" })
    expect(await count("person")).toBe(0) // looking at the link does nothing
    t.set(t.at() + 60_000)
    const done = await confirmJoin(t.s, id, { ip: "192.0.2.9" })
    expect(done).toMatchObject({ goTo: "/first/welcome" })
    const person = signedIn(await admittedOf(t.s.db, (done as { session: string }).session))!.person
    expect(await studioSessionOf(t.s.db, (done as { session: string }).session)).toBeNull() // a learner's session never opens the studio
    const story = (await personStory(t.s.db, person))!
    expect(story.person).toMatchObject({
      name: "Aino",
      email: "Aino@Post.example",
      zone: "Europe/Oslo",
      source: "letter",
    })
    expect(story.consents).toMatchObject([
      { kind: "given", ip: "192.0.2.9", page: "/first", wording: expect.stringContaining("I can leave at any time") },
    ])
    expect(story.admissions).toMatchObject([{ title: "First", done: 0, of: 3 }])
    expect(story.facts.map((f) => f.kind)).toEqual([
      "arrived",
      "arrived",
      "joined",
      "confirmed",
      "admitted",
      "sequence-begun",
      "arrived",
    ])
    const [course] = await myCourses(t.s, { person: person, scope: null })
    expect(await openLesson(t.s, { person: person, scope: null }, "first", course!.lessons[0]!.id)).toMatchObject({
      lesson: { title: "Lesson 1" },
    })
    expect(await markDone(t.s, { person: person, scope: null }, "first", course!.lessons[0]!.id, true)).toBe(true)
    const after = (await personStory(t.s.db, person))!.facts.map((f) => `${f.kind} ${f.step ?? ""}`.trim())
    expect(after.slice(7)).toEqual(["lesson-opened", "arrived Learning area", "course-begun", "lesson-done"])
  })

  it("sends once more to whoever waits, once in ten minutes, and the same for an address nobody knows", async () => {
    const visitor = someVisitor()
    const again = (email: string, from = visitor) =>
      askOnceMore(t.s, { release: school.release, email, visitor: from, ip: "192.0.2.9" })
    await join_(t, school, "waits@post.example", { visitor })
    await sendDue(t.s, "w")
    // Not for a device that didn't ask.
    await again("waits@post.example", someVisitor())
    await sendDue(t.s, "w")
    expect(mailTo("waits@post.example")).toHaveLength(1)
    await t.s.db.write("DELETE FROM knock WHERE purpose LIKE 'again:%'")
    for (let i = 0; i < 3; i++) await again("waits@post.example")
    await sendDue(t.s, "w")
    const [first, second] = mailTo("waits@post.example")
    expect(mailTo("waits@post.example")).toHaveLength(2)
    // The same press by either.
    expect(linkId(t, second!, "confirm")).toBe(linkId(t, first!, "confirm"))
    await again("nobody@post.example")
    await again("no address at all")
    await sendDue(t.s, "w")
    expect(mailTo("nobody@post.example")).toEqual([])
    // Whoever is known gets a way in, without having left anything pending.
    const known = await joinWhole("knows@post.example", visitor)
    expect(known.person).toBeGreaterThan(0)
    await again("knows@post.example")
    await sendDue(t.s, "w")
    expect(mailTo("knows@post.example").some((m) => m.subject.includes("sign-in link"))).toBe(true)
  })

  it("without double opt-in begins at once for a new address, lets nobody in, and changes nothing about anyone known", async () => {
    const funnel = (await loadFunnel(t.s.db, school.funnel))!
    const first = funnel.steps[0]!
    const revision = (await t.s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [first.id]))!
    const blocks = (confirm: boolean) => first.page!.blocks.map((b) => (b.kind === "form" ? { ...b, confirm } : b))
    await savePage(t.s, first.id, revision.revision, { ...first.page!, blocks: blocks(false) })
    const published = await publishFunnel(t.s, school.funnel)
    const open = { release: "release" in published ? published.release : 0, path: school.path }

    await join_(t, open, "single@post.example", { name: "Siri" })
    await sendDue(t.s, "w")
    const person = (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = 'single@post.example'"))!.id
    const story = (await personStory(t.s.db, person))!
    expect(story.addresses).toMatchObject([{ confirmed_at: null }])
    expect(story.consents).toMatchObject([{ kind: "given", page: "/first" }])
    expect(story.admissions).toMatchObject([{ title: "First" }])
    // Both go at once, in no order.
    const [lesson, confirmation] = mailTo("single@post.example").sort((a, b) => (a.subject < b.subject ? -1 : 1))
    expect([lesson?.subject, confirmation?.subject]).toEqual(["1 of 3: Lesson 1", "One press, and “First” is yours"])
    expect(await count("session WHERE person_id = ?", [person])).toBe(0)
    const id = linkId(t, confirmation!, "confirm")
    expect(await confirmJoin(t.s, id, { ip: "192.0.2.9" })).toMatchObject({ goTo: "/first/welcome" })
    expect((await personStory(t.s.db, person))!.addresses[0]!.confirmed_at).not.toBeNull()
    expect(await count("mail WHERE person_id = ? AND kind = 'sequence' AND state = 'sent'", [person])).toBe(1)

    // Somebody who is known, by another form: typing their address renames nobody and opens nothing.
    const known = await joinWhole("namesake@post.example")
    await t.s.db.write("DELETE FROM admission WHERE person_id = ?", [known.person])
    await t.s.db.write("DELETE FROM knock")
    await join_(t, open, "namesake@post.example", { name: "Mallory" })
    expect((await personStory(t.s.db, known.person))!.person.name).toBe("Ines")
    expect(await count("admission WHERE person_id = ?", [known.person])).toBe(0)

    await savePage(t.s, first.id, revision.revision + 1, { ...first.page!, blocks: blocks(true) })
    const after = await publishFunnel(t.s, school.funnel)
    school = { ...school, release: (after as { release: number }).release }
  })

  it("works once: the second press is refused, a new link comes by mail and to that mailbox only", async () => {
    await join_(t, school, "once@post.example")
    await sendDue(t.s, "w")
    const id = linkId(t, mailTo("once@post.example")[0]!, "confirm")
    const presses = await Promise.all(Array.from({ length: 5 }, () => confirmJoin(t.s, id, { ip: "" })))
    expect(presses.filter((p) => "session" in p)).toHaveLength(1)
    expect(presses.filter((p) => "refused" in p && p.refused === "used")).toHaveLength(4)
    expect(await count("person WHERE email = 'once@post.example'")).toBe(1)
    await renewLink(t.s, { pending: id })
    await renewLink(t.s, { pending: id })
    await sendDue(t.s, "w")
    const again = mailTo("once@post.example").filter((m) => m.text.includes("/way-in/"))
    expect(again).toHaveLength(1)
    const entered = await enterByWayIn(t.s, linkId(t, again[0]!, "way-in"))
    expect(entered).toMatchObject({ goTo: "/learn" })
    expect(await enterByWayIn(t.s, linkId(t, again[0]!, "way-in"))).toEqual({ refused: "used" })
  })

  it("expires: after seven days the press is refused, and a fresh link works", async () => {
    await join_(t, school, "late@post.example")
    await sendDue(t.s, "w")
    const id = linkId(t, mailTo("late@post.example")[0]!, "confirm")
    const before = t.at()
    t.set(before + 8 * 86_400_000)
    expect(await confirmJoin(t.s, id, { ip: "" })).toMatchObject({ refused: "used" })
    await renewLink(t.s, { pending: id })
    await sendDue(t.s, "w")
    expect(await confirmJoin(t.s, linkId(t, mailTo("late@post.example").at(-1)!, "confirm"), { ip: "" })).toMatchObject(
      { goTo: "/first/welcome" },
    )
    expect(await confirmJoin(t.s, 99_999, { ip: "" })).toEqual({ refused: "foreign" })
  })

  it("takes 200 posts at once with one address as one: one mail, one person, and every post sees the same page", async () => {
    const answers = await Promise.all(
      Array.from({ length: 200 }, () => join_(t, school, "rush@post.example", { ip: "192.0.2.77" })),
    )
    expect(new Set(answers.map((a) => JSON.stringify(a)))).toEqual(new Set(['{"goTo":"/first/check-your-inbox"}']))
    await Promise.all([sendDue(t.s, "a"), sendDue(t.s, "b")])
    expect(mailTo("rush@post.example")).toHaveLength(1)
    await confirmJoin(t.s, linkId(t, mailTo("rush@post.example")[0]!, "confirm"), { ip: "" })
    expect(await count("address WHERE canonical = 'rush@post.example'")).toBe(1)
    expect(await count("enrolment n JOIN person p ON p.id = n.person_id WHERE p.email = 'rush@post.example'")).toBe(1)
  })

  it("mails the way in to somebody who joins again, at most once in ten minutes, and tells a stranger nothing", async () => {
    await joinWhole("again@post.example")
    const mails = mailTo("again@post.example").length
    const stranger = await join_(t, school, "never-seen@post.example")
    expect(await join_(t, school, "AGAIN@post.example")).toEqual(stranger)
    await sendDue(t.s, "w")
    expect(mailTo("again@post.example").filter((m) => m.text.includes("/way-in/"))).toHaveLength(0) // within ten minutes of the first
    await t.s.db.write("UPDATE knock SET mailed_at = ? WHERE canonical = 'again@post.example'", [
      new Date(Date.now() - 11 * 60_000),
    ])
    expect(await join_(t, school, "again@post.example", { name: "Somebody Else" })).toEqual(stranger)
    expect(await join_(t, school, "again@post.example")).toEqual(stranger)
    await sendDue(t.s, "w")
    const wayIn = mailTo("again@post.example").filter((m) => m.text.includes("/way-in/"))
    expect(wayIn).toHaveLength(1)
    expect(mails).toBeGreaterThan(0)
    expect(
      (await t.s.db.row<{ name: string }>("SELECT name FROM person WHERE email = 'again@post.example'"))!.name,
    ).toBe("Ines") // typed by a stranger, believed by nobody
    expect(await enterByWayIn(t.s, linkId(t, wayIn[0]!, "way-in"))).toMatchObject({ goTo: "/learn/first" })
  })

  it.each<[string, { email: string; name?: string }]>([
    ["no address", { email: "not an address" }],
    ["a header in the address", { email: "a@x.example\r\nBcc: b@x.example" }],
    ["a header in the name", { email: "a@x.example", name: "A\r\nBcc: b" }],
    ["an endless name", { email: "a@x.example", name: "x".repeat(500) }],
  ])("refuses %s, in words", async (_, bad) => {
    const before = await count("pending_join")
    const done = await join_(t, school, bad.email, bad)
    expect(done).toMatchObject({ refused: "form", says: expect.stringMatching(/\.$/) })
    expect(await count("pending_join")).toBe(before)
  })

  it("lets a program that fills in everything believe it worked", async () => {
    const before = await count("mail")
    expect(await join_(t, school, "bot@post.example", { website: "https://spam.example" })).toEqual({
      goTo: "/first/check-your-inbox",
    })
    expect(await count("mail")).toBe(before)
  })

  it("stops one connection from writing to many addresses", async () => {
    const answers = []
    for (let i = 0; i < 45; i++) answers.push(await join_(t, school, `victim${i}@post.example`, { ip: "192.0.2.66" }))
    expect(answers.filter((a) => "goTo" in a)).toHaveLength(40)
    expect(answers.at(-1)).toMatchObject({ refused: "rate" })
    expect(await count("mail WHERE to_email LIKE 'victim%'")).toBe(40)
  })

  it("doesn't know forms of releases that never were", async () => {
    for (const release of ["0", "999999", "x", "", "1 OR 1=1", "1e3"])
      expect(await join_(t, school, "a@x.example", { release })).toEqual({ refused: "gone" })
  })

  it("keeps script in a name as text", async () => {
    const email = "script@post.example"
    await join_(t, school, email, { name: "<script>alert(1)</script>" })
    await sendDue(t.s, "w")
    const mail = mailTo(email)[0]!
    expect(mail.html).not.toContain("<script>")
    expect(mail.text).toContain("<script>alert(1)</script>")
  })

  it("takes a zone that isn't one for the school's", async () => {
    await join_(t, school, "zone@post.example", { zone: "Mars/Olympus" })
    expect(await t.s.db.row("SELECT zone FROM pending_join WHERE canonical = 'zone@post.example'")).toEqual({
      zone: "Europe/Berlin",
    })
  })
})

it("forgets what a stranger typed and nobody pressed, but not what was pressed", async () => {
  await joinWhole("pressed@post.example")
  await join_(t, school, "unpressed@post.example")
  const kept = async () => (await t.s.db.rows<{ email: string }>("SELECT email FROM pending_join")).map((r) => r.email)
  const now = t.at()
  t.set(now + 30 * 86_400_000)
  await sweepPendingJoins(t.s)
  expect(await kept()).toContain("unpressed@post.example")
  t.set(now + 38 * 86_400_000)
  await sweepPendingJoins(t.s)
  expect(await kept()).not.toContain("unpressed@post.example")
  expect(await kept()).toContain("pressed@post.example")
  t.set(now)
})

describe("the way in", () => {
  it("answers the same for a known and an unknown address, and mails only the known", async () => {
    await joinWhole("known@post.example")
    const before = t.sent.length
    expect(await askWayIn(t.s, "known@post.example", "192.0.2.3", "/learn/first")).toEqual({ ok: true })
    expect(await askWayIn(t.s, "unknown@post.example", "192.0.2.3", "/learn")).toEqual({ ok: true })
    expect(await askWayIn(t.s, "nonsense", "192.0.2.3", "/learn")).toMatchObject({ refused: expect.any(String) })
    await sendDue(t.s, "w")
    expect(
      t.sent
        .slice(before)
        .filter((m) => m.text.includes("/way-in/"))
        .map((m) => m.to.address),
    ).toEqual(["known@post.example"])
  })
  it.each([
    ["/learn/first/3", "/learn/first/3"],
    ["https://evil.example", "/learn"],
    ["//evil.example", "/learn"],
    ["/studio", "/learn"],
    ["/learn/../studio", "/learn"],
    ["/learn\r\nX: y", "/learn"],
  ])("%j leads to %s", (asked, path) => {
    expect(safePath(asked)).toBe(path)
  })
})

describe("the gate", () => {
  it("opens nothing without an admission, or after it ended, or for a draft", async () => {
    const { person } = await joinWhole("gate@post.example")
    expect(await myCourses(t.s, { person: person, scope: null })).toHaveLength(1)
    await t.s.db.write("UPDATE admission SET until_at = ? WHERE person_id = ?", [new Date(t.at() - 1), person])
    expect(await myCourses(t.s, { person: person, scope: null })).toHaveLength(0)
    expect(await openLesson(t.s, { person: person, scope: null }, "first", 1)).toBeUndefined()
    expect(await markDone(t.s, { person: person, scope: null }, "first", 1, true)).toBe(false)
    expect(await gateOf(t.s.db, "first")).toEqual({ title: "First", path: "first" })
    expect(await gateOf(t.s.db, "nothing")).toBeUndefined()
  })
})

describe("leaving", () => {
  it("ends the mails at once, twice is once, and coming back goes on where it stood", async () => {
    const { person } = await joinWhole("leave@post.example")
    await sendDue(t.s, "w")
    const first = mailTo("leave@post.example").at(-1)!
    expect(first.subject).toBe("1 of 3: Lesson 1")
    const address = linkId(t, first, "leave")
    await leaveMails(t.s, address, { ip: "", how: "the link in an e-mail" })
    await leaveMails(t.s, address, { ip: "", how: "the link in an e-mail" })
    const n = t.sent.length
    t.set(t.at() + 3 * 86_400_000)
    await sendDue(t.s, "w")
    expect(t.sent.slice(n).filter((m) => m.to.address === "leave@post.example")).toEqual([])
    const story = (await personStory(t.s.db, person))!
    expect(story.consents.map((c) => c.kind)).toEqual(["given", "withdrawn"])
    expect(story.sequences[0]).toMatchObject({ ended_why: "left" })
    await returnToMails(t.s, address, { ip: "" })
    expect(await receiver(t.s.db, address)).toMatchObject({ receives: true })
    await doWhatIsDue(t.s, "w")
    expect(mailTo("leave@post.example").at(-1)!.subject).toBe("2 of 3: Lesson 2")
  })
})
