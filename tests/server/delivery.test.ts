// Mail that arrives: signed so that an independent verifier takes it, records looked up at a name server, and what is reported back.
import { authenticate } from "mailauth"
import { afterAll, beforeAll, expect, it } from "vitest"
import { type FrontServer, frontServer } from "@/front/server"
import { doWhatIsDue } from "@/server/due-list"
import { makeSigningKey, readDelivery, saveInclude } from "@/server/mail/dkim"
import { notWrittenTo, ratesOf, reportToken, tryAgain } from "@/server/mail/report"
import { makePerson } from "@/server/person/person"
import { readToday } from "@/server/today"
import { type Mailbox, openMailbox } from "@/standins/mailbox/smtp"
import { listMessages, rawMessage } from "@/standins/mailbox/store"
import { type Names, openNames, setName } from "@/standins/names/server"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let web: FrontServer
let mailbox: Mailbox
let names: Names
let hook = ""
let sequence = 0
let letter = 0
beforeAll(async () => {
  const port = await freePort()
  t = await testSchool("delivery", { smtp: `smtp://127.0.0.1:${port}` })
  await openSchool(t)
  web = frontServer(t.s, async (_, res) => void res.end("next"))
  await new Promise<void>((done) => web.server.listen(0, "127.0.0.1", () => done()))
  hook = `http://127.0.0.1:${(web.server.address() as { port: number }).port}/hooks/mail/`
  mailbox = await openMailbox(t.s.config.mailboxFolder, port, hook + reportToken(t.s.config.secret))
  names = await openNames(t.s.config.dataFolder)
  Object.assign(t.s.config, { nameServer: `127.0.0.1:${names.port}` })
  sequence = (await t.s.db.row<{ id: number }>("SELECT id FROM sequence"))!.id
  letter = (await t.s.db.row<{ id: number }>("SELECT MIN(id) AS id FROM sequence_mail"))!.id
})
afterAll(async () => {
  await web.close()
  t.s.mailer.close()
  await mailbox.close()
  await names.close()
  await t.end()
})

async function freePort(): Promise<number> {
  const { createServer } = await import("node:net")
  const probe = createServer().listen(0, "127.0.0.1")
  await new Promise((ready) => probe.once("listening", ready))
  const { port } = probe.address() as { port: number }
  await new Promise((done) => probe.close(done))
  return port
}

/** Somebody in the sequence, with an e-mail that goes at once. */
async function written(email: string): Promise<number> {
  const known = await t.s.db.row<{ person: number }>("SELECT person_id AS person FROM address WHERE email = ?", [email])
  const person =
    known?.person ??
    (
      await t.s.db.transaction((tx) =>
        makePerson(tx, { canonical: email, email, name: "P", zone: "UTC", source: "direct", confirmed: true }, t.at()),
      )
    ).person
  const run = (await t.s.db.row<{ n: number }>("SELECT COUNT(*) + 1 AS n FROM enrolment WHERE person_id = ?", [
    person,
  ]))!.n
  const enrolment = (
    await t.s.db.write("INSERT INTO enrolment (person_id, sequence_id, run, begun_at, step) VALUES (?, ?, ?, ?, ?)", [
      person,
      sequence,
      run,
      new Date(t.at()),
      2 * letter,
    ])
  ).id
  await t.s.db.write(
    "INSERT INTO mail (once, kind, person_id, to_email, enrolment_id, sequence_mail_id, goes, due_at, try_at) VALUES (?, 'sequence', ?, ?, ?, ?, 'asked', ?, ?)",
    [`d:${enrolment}`, person, email, enrolment, letter, new Date(t.at()), new Date(0)],
  )
  await doWhatIsDue(t.s, "w")
  return person
}
const resultOf = (of: false | { status: { result: string } } | undefined) => (of ? of.status.result : null)
const messageTo = async (email: string) => {
  const [m] = await listMessages(t.s.config.mailboxFolder, email)
  return (await rawMessage(t.s.config.mailboxFolder, m!.id))!
}
const until = async <T>(ask: () => Promise<T | undefined | false>): Promise<T> => {
  for (let i = 0; i < 200; i++) {
    const got = await ask()
    if (got) return got
    await new Promise((r) => setTimeout(r, 50))
  }
  throw new Error("it did not come about")
}
const suppressed = async (email: string) =>
  (await t.s.db.row<{ as: string | null; why: string | null; soft: number }>(
    "SELECT suppressed AS `as`, suppressed_why AS why, soft_bounces AS soft FROM address WHERE email = ?",
    [email],
  ))!

it("is signed, so that SPF, DKIM and DMARC pass at a verifier of its own, with the records that the page says", async () => {
  expect((await readDelivery(t.s)).records.map((r) => [r.kind, r.state])).toEqual([
    ["spf", "missing"],
    ["dmarc", "missing"],
  ])
  expect(await saveInclude(t.s, "ip4:192.0.2.7")).toEqual({ ok: true })
  expect(await saveInclude(t.s, "x; y")).toHaveProperty("refused")
  expect(await makeSigningKey(t.s)).toEqual({ ok: true })
  for (const r of (await readDelivery(t.s)).records) await setName(t.s.config.dataFolder, r.name, [r.value])
  const delivery = await readDelivery(t.s)
  expect(delivery.records.map((r) => [r.kind, r.state])).toEqual([
    ["spf", "well"],
    ["dkim", "well"],
    ["dkim", "well"],
    ["dmarc", "well"],
  ])
  await written("signed@s.example")
  const raw = await messageTo("signed@s.example")
  const texts = new Map(delivery.records.map((r) => [r.name, r.value]))
  const resolver = async (name: string, type: string) => {
    const text = type === "TXT" ? texts.get(name.toLowerCase()) : undefined
    if (!text) throw Object.assign(new Error("none"), { code: "ENOTFOUND" })
    return [[text]]
  }
  const from = /^bounce-/.test("bounce-") ? `bounce-1@${delivery.domain}` : ""
  const check = (ip: string, message: Buffer | string) =>
    authenticate(message, { ip, helo: "mail.crock.example", mta: "mx.s.example", sender: from, resolver })
  const good = await check("192.0.2.7", raw)
  // RFC 8058, 4: the signature covers the one click.
  for (const h of raw.toString("latin1").match(/ h=[^;]*/g)!)
    expect(h.replace(/\s/g, "").split(/[=:]/)).toEqual(
      expect.arrayContaining(["list-unsubscribe", "list-unsubscribe-post"]),
    )
  // RFC 8463 beside RFC 6376: both signatures, each by its own key.
  expect(good.dkim.results.map((r) => [r.signingDomain, r.selector, r.status.result]).toSorted()).toEqual([
    [delivery.domain, "heron", "pass"],
    [delivery.domain, "heron-ed", "pass"],
  ])
  expect([resultOf(good.spf), resultOf(good.dmarc)]).toEqual(["pass", "pass"])
  // What is changed on the way, or comes from elsewhere, doesn't pass.
  const changed = await check("198.51.100.1", raw.toString("latin1").replace("Lesson 1", "Lesson 9"))
  for (const r of changed.dkim.results) expect(r.status.result).not.toBe("pass")
  expect(resultOf(changed.spf)).not.toBe("pass")
  const other = delivery.records.find((r) => r.kind === "dkim")!
  await setName(t.s.config.dataFolder, other.name, ["v=DKIM1; k=rsa; p=AAAA"])
  expect((await readDelivery(t.s)).records[1]).toMatchObject({ state: "other" })
  expect((await readToday(t.s)).broken.map((b) => b.words).join()).toContain("The DKIM record of")
})

it("that comes back for good ends everything; for now, at the third time; a complaint is leaving", async () => {
  const gone = await written("gone.ines@s.example")
  await until(async () => (await suppressed("gone.ines@s.example")).as === "undeliverable")
  expect((await suppressed("gone.ines@s.example")).why).toContain("5.1.1")
  const ended = await t.s.db.rows("SELECT ended_why AS why FROM enrolment WHERE person_id = ?", [gone])
  expect(ended).toEqual([{ why: "undeliverable" }])
  for (const n of [1, 2, 3]) {
    await written("full.ines@s.example")
    await until(async () => (await suppressed("full.ines@s.example")).soft === n)
    expect((await suppressed("full.ines@s.example")).as).toBe(n < 3 ? null : "undeliverable")
  }
  const cross = await written("cross.ines@s.example")
  await until(async () => (await suppressed("cross.ines@s.example")).as === "left")
  const facts = await t.s.db.rows<{ kind: string }>("SELECT kind FROM fact WHERE person_id = ?", [cross])
  expect(facts.map((f) => f.kind)).toContain("complained")
  expect((await notWrittenTo(t.s.db)).map((x) => [x.email, x.as])).toEqual(
    expect.arrayContaining([
      ["gone.ines@s.example", "undeliverable"],
      ["cross.ines@s.example", "left"],
    ]),
  )
  expect(await ratesOf(t.s.db, t.at())).toEqual({ sent: 6, bounced: 4, complained: 1 })
  // Who was refused at the receiver's door came back as well.
  const turn = (from: string, to: string) =>
    t.s.db.write(
      `UPDATE mail SET state = '${to}' WHERE state = '${from}' AND bounced_at IS NULL AND complained_at IS NULL LIMIT 1`,
    )
  await turn("sent", "rejected")
  expect(await ratesOf(t.s.db, t.at())).toEqual({ sent: 6, bounced: 5, complained: 1 })
  await turn("rejected", "sent")
  expect(await tryAgain(t.s, "full.ines@s.example")).toBe(true)
  expect(await tryAgain(t.s, "cross.ines@s.example")).toBe(false)
  expect(await suppressed("full.ines@s.example")).toMatchObject({ as: null, soft: 0 })
})

it("is reported by whoever knows the address of the hook, about a mail that is ours, once", async () => {
  await written("plain@s.example")
  const raw = (await messageTo("plain@s.example")).toString("latin1")
  const messageId = /^Message-ID: (<.*>)/im.exec(raw)![1]!
  const report = (about: string, status = "5.1.1", to = "x@crock.example") =>
    [
      `To: <${to}>`,
      'Content-Type: multipart/report; boundary="b"',
      "",
      "--b",
      "Content-Type: message/delivery-status",
      "",
      "Reporting-MTA: dns; x",
      "",
      "Final-Recipient: rfc822; plain@s.example",
      "Action: failed",
      `Status: ${status}`,
      "",
      "--b",
      "Content-Type: text/rfc822-headers",
      "",
      `Message-ID: ${about}`,
      "",
      "--b--",
    ].join("\r\n")
  const post = async (body: string, token = reportToken(t.s.config.secret)) => {
    const res = await fetch(hook + token, { method: "POST", body })
    return res.status === 200 ? ((await res.json()) as { taken: string }).taken : res.status
  }
  expect(await post(report(messageId), "mail.AAAA")).toBe(404)
  expect(await post(report("<999999.test@localhost>"))).toBe("unknown")
  expect(await post(report("<nothing>", "5.1.1", "bounce-1-00000000000000000000@crock.example"))).toBe("unknown")
  expect(await post("")).toBe("unknown")
  expect(await post("x".repeat(3 * 1024 * 1024))).toBe(413)
  expect(await suppressed("plain@s.example")).toMatchObject({ as: null })
  expect(await post(report(messageId, "4.2.2"))).toBe("bounce")
  expect(await post(report(messageId, "4.2.2"))).toBe("bounce")
  expect(await suppressed("plain@s.example")).toMatchObject({ as: null, soft: 1 })
  expect(await post(report(messageId))).toBe("bounce")
  expect(await suppressed("plain@s.example")).toMatchObject({ as: "undeliverable" })
})
