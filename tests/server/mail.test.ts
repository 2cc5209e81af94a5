import { type ChildProcess, spawn } from "node:child_process"
import { createServer } from "node:net"
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from "vitest"
import { confirmJoin } from "@/server/funnel/confirm"
import { followLink } from "@/server/mail/click"
import { recoverMail, sendDue } from "@/server/mail/send"
import { changeZone } from "@/server/mail/unsubscribe"
import { personStory } from "@/server/person/people"
import { MailTrouble, smtpMailer } from "@/server/port/mailer"
import { sequenceNames } from "@/server/sequence/sequence-view"
import { sign } from "@/server/sign"
import { openMailbox } from "@/standins/mailbox/smtp"
import { listMessages, rawMessage } from "@/standins/mailbox/store"
import { join_, linkId, openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("mail")
  school = await openSchool(t)
})
afterAll(() => t.end())
afterEach(() => t.misbehave(null))

const states = async (email: string) =>
  (
    await t.s.db.rows<{ state: string; tries: number }>(
      "SELECT state, tries FROM mail WHERE to_email = ? ORDER BY id",
      [email],
    )
  ).map((r) => r.state)
const mailTo = (email: string) => t.sent.filter((m) => m.to.address === email)
const day = 86_400_000

async function member(email: string, zone = "Europe/Oslo"): Promise<number> {
  await join_(t, school, email, { zone })
  await sendDue(t.s, "w")
  await confirmJoin(t.s, linkId(t, mailTo(email).at(-1)!, "confirm"), { ip: "" })
  return (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))!.id
}

describe("a sequence", () => {
  it("comes at once, then each morning where the reader is, and ends", async () => {
    t.set("2026-11-24T09:00:00Z")
    const person = await member("morning@post.example", "Asia/Kathmandu")
    await sendDue(t.s, "w")
    expect(mailTo("morning@post.example").at(-1)!.subject).toBe("1 of 3: Lesson 1")
    const due = () =>
      t.s.db.row<{ due_at: Date }>("SELECT due_at FROM mail WHERE person_id = ? AND state = 'due'", [person])
    expect((await due())!.due_at.toISOString()).toBe("2026-11-25T01:45:00.000Z") // 07:30 at +05:45
    t.set("2026-11-25T01:44:59Z")
    await sendDue(t.s, "w")
    expect(mailTo("morning@post.example")).toHaveLength(2)
    t.set("2026-11-25T01:45:00Z")
    await sendDue(t.s, "w")
    t.set("2026-11-27T01:45:00Z") // two days late: the next is not sent in the same breath
    await sendDue(t.s, "w")
    expect(
      mailTo("morning@post.example")
        .map((m) => m.subject)
        .slice(1),
    ).toEqual(["1 of 3: Lesson 1", "2 of 3: Lesson 2", "3 of 3: Lesson 3"])
    expect((await personStory(t.s.db, person))!.sequences).toMatchObject([
      { name: "Three mornings", ended_why: "finished", sent: 3 },
    ])
  })

  it("moves with the reader, and never sends twice for it", async () => {
    t.set("2026-11-24T09:00:00Z")
    const person = await member("move@post.example")
    await sendDue(t.s, "w")
    const address = linkId(t, mailTo("move@post.example").at(-1)!, "leave")
    expect(await changeZone(t.s, address, "America/New_York")).toBe(true)
    expect(await changeZone(t.s, address, "Nowhere/Land")).toBe(false)
    const next = await t.s.db.row<{ due_at: Date }>("SELECT due_at FROM mail WHERE person_id = ? AND state = 'due'", [
      person,
    ])
    expect(next!.due_at.toISOString()).toBe("2026-11-25T12:30:00.000Z")
  })

  it("carries what RFC 2369 and RFC 8058 ask for, and signed links only", async () => {
    t.set("2026-11-24T09:00:00Z")
    await member("headers@post.example")
    await sendDue(t.s, "w")
    const m = mailTo("headers@post.example").at(-1)!
    expect(m.headers["List-Unsubscribe"]).toMatch(/^<http:\/\/localhost:4799\/mails\/[\w.-]+\?mail=\d+>$/)
    expect(m.headers["List-Unsubscribe-Post"]).toBe("List-Unsubscribe=One-Click")
    const token = /\/go\/([\w.-]+)/.exec(m.html)![1]!
    expect((await followLink(t.s, token))?.to).toMatch(/^\/learn\/first\/\d+$/)
    expect(await followLink(t.s, token)).not.toBeNull()
    const person = (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = 'headers@post.example'"))!.id
    expect((await personStory(t.s.db, person))!.facts.filter((f) => f.kind === "clicked")).toHaveLength(1)
    expect(await t.s.db.row("SELECT MAX(clicked) AS n FROM enrolment WHERE person_id = ?", [person])).toEqual({ n: 1 })
    const [text] = token.split(".")
    for (const bad of [
      "",
      "x",
      token.slice(0, -2),
      `${text}.AAAA`,
      sign("another secret", "click", text!),
      sign(t.s.config.secret, "leave", text!),
      `9${token}`,
      sign(t.s.config.secret, "click", "999999-0"),
      sign(t.s.config.secret, "click", `${text!.split("-")[0]}-77`),
    ])
      expect(await followLink(t.s, bad)).toBeNull()
  })

  it("leaves out a link to the outside, however it is written into the token", async () => {
    expect(await followLink(t.s, sign(t.s.config.secret, "click", "https://evil.example"))).toBeNull()
  })
})

it("two sequences of one name are told apart by their funnel, or their number", async () => {
  const [first] = await t.s.db.rows<{ id: number; name: string }>("SELECT id, name FROM sequence")
  const other = await t.s.db.write(
    "INSERT INTO sequence (name, leave_line, flow, state) SELECT name, leave_line, flow, 'draft' FROM sequence WHERE id = ?",
    [first!.id],
  )
  const funnel = await t.s.db.row<{ name: string }>("SELECT name FROM funnel WHERE id = ?", [school.funnel])
  expect((await sequenceNames(t.s.db)).map((q) => q.name)).toEqual([
    `${first!.name} (${funnel!.name})`,
    `${first!.name} (no. ${other.id})`,
  ])
  await t.s.db.write("DELETE FROM sequence WHERE id = ?", [other.id])
})

describe("trouble with the mail server", () => {
  it("tries again later, and longer each time", async () => {
    await join_(t, school, "slow@post.example")
    t.misbehave((m) => (m.to.address === "slow@post.example" ? new MailTrouble("connection refused") : undefined))
    expect(await sendDue(t.s, "w")).toMatchObject({ troubled: 1 })
    expect(await sendDue(t.s, "w")).toMatchObject({ sent: 0, troubled: 0 }) // not before its time
    const row = await t.s.db.row<{ try_at: Date; trouble: string; message_id: string }>(
      "SELECT try_at, trouble, message_id FROM mail WHERE to_email = 'slow@post.example'",
    )
    expect(row!.trouble).toBe("connection refused")
    expect(row!.try_at.getTime() - Date.now()).toBeGreaterThan(50_000)
    t.misbehave(null)
    await t.s.db.write("UPDATE mail SET try_at = ? WHERE to_email = 'slow@post.example'", [new Date(0)])
    await sendDue(t.s, "w")
    expect(mailTo("slow@post.example").map((m) => m.messageId)).toEqual([row!.message_id])
  })

  it("marks a receiver who is refused for good, ends their mails, and does not try again", async () => {
    const person = await member("gone@post.example")
    t.misbehave((m) =>
      m.to.address === "gone@post.example"
        ? new MailTrouble("550 5.1.1 No such mailbox", { reply: 550, receiver: true })
        : undefined,
    )
    await sendDue(t.s, "w")
    t.misbehave(null)
    t.set(t.at() + 5 * day)
    await sendDue(t.s, "w")
    expect(await states("gone@post.example")).toEqual(["sent", "rejected"])
    const story = (await personStory(t.s.db, person))!
    expect(story.addresses[0]).toMatchObject({
      suppressed: "undeliverable",
      suppressed_why: "550 5.1.1 No such mailbox",
    })
    expect(story.sequences[0]).toMatchObject({ ended_why: "undeliverable" })
  })

  it("real SMTP: taken, refused for good, refused for now, nobody there, and a server that says nothing", async () => {
    const mailbox = await openMailbox(t.s.config.mailboxFolder)
    const mailer = smtpMailer(`smtp://127.0.0.1:${mailbox.port}`)
    const m = (address: string) => ({
      messageId: "<1@x.example>",
      from: { name: "Ä", address: "a@x.example" },
      to: { name: "さくら", address },
      subject: "第一",
      date: new Date(),
      html: "<p>x</p>",
      text: "x",
      headers: {},
    })
    await mailer.send(m("fine@post.example"))
    const [kept] = await listMessages(t.s.config.mailboxFolder, "FINE@post.example")
    expect(kept).toMatchObject({ id: 1, subject: "第一", to: ["fine@post.example"] })
    expect((await rawMessage(t.s.config.mailboxFolder, 1))!.toString()).toContain("Message-ID: <1@x.example>")
    await expect(mailer.send(m("refuse.me@post.example"))).rejects.toMatchObject({ reply: 550, receiver: true })
    await expect(mailer.send(m("later.me@post.example"))).rejects.toMatchObject({ reply: 450 })
    mailer.close()
    await mailbox.close()
    const nobody = smtpMailer(`smtp://127.0.0.1:${mailbox.port}`)
    await expect(nobody.send(m("fine@post.example"))).rejects.toMatchObject({ reply: undefined })
    expect(await nobody.verify()).toContain("ECONNREFUSED")
    nobody.close()
    const mute = createServer().listen(0, "127.0.0.1")
    await new Promise((r) => mute.once("listening", r))
    const waiting = smtpMailer(`smtp://127.0.0.1:${(mute.address() as { port: number }).port}`)
    await expect(waiting.send(m("fine@post.example"))).rejects.toBeInstanceOf(MailTrouble)
    waiting.close()
    mute.close()
  })
})

describe("several workers", () => {
  it("share what is due without sending anything twice", async () => {
    await bulk(400, "shared")
    const done = await Promise.all(["a", "b", "c"].map((w) => sendDue(t.s, w)))
    expect(done.reduce((n, d) => n + d.sent, 0)).toBe(400)
    const to = t.sent.filter((m) => m.to.address.startsWith("shared")).map((m) => m.to.address)
    expect(to).toHaveLength(400)
    expect(new Set(to).size).toBe(400)
    expect(new Set(t.sent.map((m) => m.messageId)).size).toBe(t.sent.length)
  })
})

describe("a worker that is killed", () => {
  it("sends asked-for mail again under the same Message-ID, marks any other unsure, and goes on after it", async () => {
    const person = await member("crash@post.example")
    await join_(t, school, "crash-confirm@post.example")
    // As a killed worker leaves them: "sending" committed, the result not.
    await t.s.db.write(
      "UPDATE mail SET state = 'sending', tries = 1, claimed_by = 'dead', message_id = CONCAT('<', id, '@dead>'), try_at = ? WHERE state = 'due' AND to_email LIKE 'crash%' AND due_at <= ?",
      [new Date(Date.now() - 1000), new Date(t.at())],
    )
    expect(await recoverMail(t.s)).toBe(2)
    expect(await recoverMail(t.s)).toBe(0)
    await sendDue(t.s, "w")
    const again = mailTo("crash-confirm@post.example")
    expect(again).toHaveLength(1)
    expect(again[0]!.messageId).toMatch(/@dead>$/)
    expect(await states("crash@post.example")).toEqual(["sent", "unsure", "due"])
    expect((await personStory(t.s.db, person))!.facts.map((f) => f.kind)).toContain("mail-unsure")
  })

  it("with -9, in the middle of 600: nothing is lost, nothing comes twice, and what was in its hands is said", async () => {
    const mailbox = await openMailbox(t.s.config.mailboxFolder)
    await bulk(600, "killed")
    const env = { ...t.env, SMTP_URL: `smtp://127.0.0.1:${mailbox.port}`, HERON_LEASE_MS: "1500" }
    const start = () => spawn(process.execPath, ["--import", "tsx", "src/worker/main.ts"], { env, stdio: "ignore" })
    const got = async () => (await listMessages(t.s.config.mailboxFolder)).filter((m) => m.to[0]!.startsWith("killed"))
    await t.s.db.write("UPDATE clock SET offset_ms = ? WHERE id = 1", [t.at() - Date.now() + 1000])
    const first = start()
    await until(async () => (await got()).length >= 60)
    first.kill("SIGKILL")
    const second = start()
    const third: ChildProcess = start()
    await until(
      async () =>
        (await t.s.db.row<{ n: number }>(
          "SELECT COUNT(*) AS n FROM mail WHERE to_email LIKE 'killed%' AND state NOT IN ('sent', 'unsure') AND once LIKE 'b:%'",
        ))!.n === 0,
    )
    second.kill("SIGTERM")
    third.kill("SIGTERM")
    const unsure = await t.s.db.rows<{ to_email: string }>(
      "SELECT to_email FROM mail WHERE to_email LIKE 'killed%' AND state = 'unsure'",
    )
    const received = (await got()).map((m) => m.to[0]!)
    expect(new Set(received).size).toBe(received.length) // nothing twice
    const missing = 600 - received.length
    expect(missing).toBeLessThanOrEqual(unsure.length) // nothing lost but what is said to be unsure
    expect(unsure.length).toBeLessThanOrEqual(16) // one a lane
    await mailbox.close()
  })
})

describe("slow instead of dead", () => {
  it("two workers, the database stopped, then the mail server dozing: each message reaches its receiver once", async () => {
    const env = { ...t.env, HERON_SMTP_PORT: "0", HERON_LEASE_MS: "5000" }
    const run = (main: string, more = {}) =>
      spawn(process.execPath, ["--import", "tsx", main], {
        env: { ...env, ...more },
        stdio: ["ignore", "ignore", "ignore", "ipc"],
      })
    const server = run("src/standins/mailbox/main.ts")
    const port = await new Promise<number>((done) =>
      server.once("message", (m) => done((m as { ready: number }).ready)),
    )
    await bulk(700, "dozing")
    await t.s.db.write("UPDATE clock SET offset_ms = ? WHERE id = 1", [t.at() - Date.now() + 1000])
    const got = async () => (await listMessages(t.s.config.mailboxFolder)).filter((m) => m.to[0]!.startsWith("dozing"))
    const workers = [1, 2].map(() => run("src/worker/main.ts", { SMTP_URL: `smtp://127.0.0.1:${port}` }))
    try {
      await until(async () => (await got()).length >= 50)
      const database = inject("databasePid")
      process.kill(database, "SIGSTOP")
      // Longer than a transaction may take, and than a claim holds.
      await pause(11_000).finally(() => process.kill(database, "SIGCONT"))
      for (let i = 0; i < 5; i++) {
        server.kill("SIGSTOP")
        await pause(2_000)
        server.kill("SIGCONT")
        await pause(250)
      }
      await until(
        async () =>
          (await t.s.db.row<{ n: number }>(
            "SELECT COUNT(*) AS n FROM mail WHERE to_email LIKE 'dozing%' AND once LIKE 'b:%' AND state NOT IN ('sent', 'unsure')",
          ))!.n === 0,
      )
      const to = (await got()).map((m) => m.to[0]!)
      expect(to.filter((a, i) => to.indexOf(a) !== i)).toEqual([])
      const unsure = await t.s.db.rows("SELECT 1 FROM mail WHERE to_email LIKE 'dozing%' AND state = 'unsure'")
      expect(700 - to.length).toBeLessThanOrEqual(unsure.length)
      // Whoever was only slow says what became of theirs after all.
      expect(unsure).toEqual([])
    } finally {
      for (const w of workers) w.kill("SIGKILL")
      server.kill("SIGKILL")
    }
  })

  it("a message that went out and got no answer is unsure, and not offered again; one that was asked for is", async () => {
    const heard: string[] = []
    const mute = createServer((socket) => {
      let inData = false
      socket.on("error", () => {})
      socket.write("220 mute\r\n")
      socket.on("data", (chunk) => {
        const text = chunk.toString()
        if (inData) {
          if (!text.endsWith("\r\n.\r\n")) return
          heard.push(text)
          // It has it, and goes without a word.
          socket.destroy()
        } else if (/^DATA/i.test(text)) {
          inData = true
          socket.write("354 go on\r\n")
        } else socket.write("250 ok\r\n")
      })
    }).listen(0, "127.0.0.1")
    await new Promise((r) => mute.once("listening", r))
    const mailer = smtpMailer(`smtp://127.0.0.1:${(mute.address() as { port: number }).port}`)
    const s = { ...t.s, mailer }
    await bulk(1, "unanswered")
    await join_(t, school, "unanswered-confirm@post.example")
    await sendDue(s, "w")
    expect(heard).toHaveLength(2)
    expect(await states("unanswered0@post.example")).toEqual(expect.arrayContaining(["unsure"]))
    expect(await states("unanswered-confirm@post.example")).toEqual(["due"])
    mailer.close()
    mute.close()
  })

  it("a run whose claim was taken over sends nothing of it, and takes nothing back", async () => {
    await bulk(3, "taken")
    // Another takes it all while the first has only begun to hand over.
    t.misbehave(async (m) => {
      if (m.to.address.startsWith("taken"))
        await t.s.db.write("UPDATE mail SET claimed_by = 'another' WHERE to_email LIKE 'taken%' AND state = 'due'")
    })
    const before = t.sent.length
    await Promise.all([sendDue(t.s, "w"), sendDue(t.s, "w")])
    const mine = t.sent.slice(before).map((m) => m.to.address)
    const rows = await t.s.db.rows<{ to: string; state: string; by: string | null }>(
      "SELECT to_email AS `to`, state, claimed_by AS `by` FROM mail WHERE to_email LIKE 'taken%' AND once LIKE 'b:%'",
    )
    for (const r of rows)
      expect(r).toEqual(mine.includes(r.to) ? { ...r, state: "sent", by: null } : { ...r, state: "due", by: "another" })
  })
})

const pause = (ms: number) => new Promise((r) => setTimeout(r, ms))

async function until(done: () => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 800; i++) {
    if (await done()) return
    await pause(50)
  }
  throw new Error("it did not come about in 40 seconds")
}

/** People who begin the sequence now. */
async function bulk(n: number, name: string): Promise<void> {
  const at = new Date(t.at())
  const sequence = (await t.s.db.row<{ id: number; mail: number }>(
    "SELECT q.id, MIN(m.id) AS mail FROM sequence q JOIN sequence_mail m ON m.sequence_id = q.id GROUP BY q.id",
  ))!
  for (let i = 0; i < n; i++) {
    const email = `${name}${i}@post.example`
    const person = (
      await t.s.db.write("INSERT INTO person (name, email, zone, joined_at) VALUES ('P', ?, 'UTC', ?)", [email, at])
    ).id
    await t.s.db.write("INSERT INTO address (person_id, email, canonical, confirmed_at) VALUES (?, ?, ?, ?)", [
      person,
      email,
      email,
      at,
    ])
    const enrolment = (
      await t.s.db.write("INSERT INTO enrolment (person_id, sequence_id, funnel_id, begun_at) VALUES (?, ?, ?, ?)", [
        person,
        sequence.id,
        school.funnel,
        at,
      ])
    ).id
    await t.s.db.write(
      "INSERT INTO mail (once, kind, person_id, to_email, funnel_id, enrolment_id, sequence_mail_id, due_at, try_at) VALUES (?, 'sequence', ?, ?, ?, ?, ?, ?, ?)",
      [`b:${name}:${i}`, person, email, school.funnel, enrolment, sequence.mail, at, new Date(0)],
    )
  }
}
