// Every kind of mail as it goes over the wire: by real SMTP into the stand-in, read back by an independent MIME parser.
import { type ParsedMail, simpleParser } from "mailparser"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { plainly, wear } from "@/core/look/look"
import { confirmJoin } from "@/server/funnel/confirm"
import { loadFunnel } from "@/server/funnel/load"
import { sendDue } from "@/server/mail/send"
import { askWayIn } from "@/server/person/way-in"
import { smtpMailer } from "@/server/port/mailer"
import { saveSchool } from "@/server/school"
import { saveMail } from "@/server/sequence/edit"
import { putLive } from "@/server/sequence/live"
import { verifyId } from "@/server/sign"
import { type Mailbox, openMailbox } from "@/standins/mailbox/smtp"
import { listMessages, rawMessage } from "@/standins/mailbox/store"
import { join_, openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let mailbox: Mailbox
let folder: string
beforeAll(async () => {
  t = await testSchool("letter")
  folder = t.s.config.mailboxFolder
  mailbox = await openMailbox(folder)
  t = { ...t, s: { ...t.s, mailer: smtpMailer(`smtp://127.0.0.1:${mailbox.port}`) } }
  school = await openSchool(t)
  const { course } = school
  expect(course).toBeGreaterThan(0)
  await saveSchool(t.s, {
    name: "Gärtopf & “Söhne”",
    senderName: "Maren Sólvik, 发酵学校",
    senderEmail: "maren@crock.example",
    postalAddress: "4 Mill Bank <ground floor>, Fernvik",
    zone: "Europe/Oslo",
    look: wear(plainly("kitchen-table")),
    currency: "EUR",
    taxRate: 0,
    taxIncluded: true,
    statement: "",
    front: null,
  })
})
afterAll(async () => {
  t.s.mailer.close()
  await mailbox.close()
  await t.end()
})

type Got = { raw: string; head: string; mail: ParsedMail }

async function newest(to: string): Promise<Got> {
  await sendDue(t.s, "w")
  const [message] = await listMessages(folder, to)
  if (!message) throw new Error(`nothing came for ${to}`)
  const raw = (await rawMessage(folder, message.id))!.toString("latin1")
  return { raw, head: raw.split("\r\n\r\n")[0]!, mail: await simpleParser(Buffer.from(raw, "latin1")) }
}

const linksOf = (html: string) => [...html.matchAll(/href="([^"]*)"/g)].map((m) => m[1]!.replace(/&amp;/g, "&"))

/** What RFC 5322 asks of every message, and what we ask of ours. */
function sound({ raw, head, mail }: Got): void {
  for (const field of ["From", "To", "Subject", "Date", "Message-ID", "MIME-Version"])
    expect(head.match(new RegExp(`^${field}: `, "gim")), field).toHaveLength(1)
  expect(head).not.toMatch(/[^\x00-\x7F]/) // 2.2: headers are ASCII
  for (const line of raw.split("\r\n")) expect(line.length).toBeLessThanOrEqual(998) // 2.1.1
  expect(raw.replaceAll("\r\n", "")).not.toMatch(/[\r\n]/) // 2.3: CR and LF only together
  expect(mail.headers.get("content-type")).toMatchObject({ value: "multipart/alternative" })
  expect(mail.messageId).toMatch(/^<\d+\.test@localhost>$/)
  expect(mail.from!.value).toEqual([{ address: "maren@crock.example", name: "Maren Sólvik, 发酵学校" }])
  expect(Math.abs(mail.date!.getTime() - t.at())).toBeLessThan(1_000) // business time; the header has whole seconds
  const html = String(mail.html)
  expect(html).toContain("4 Mill Bank &lt;ground floor&gt;, Fernvik")
  expect(mail.text).toContain("4 Mill Bank <ground floor>, Fernvik")
  for (const link of linksOf(html)) {
    expect(link.startsWith("http://localhost:4799/")).toBe(true)
    expect(mail.text!.replace(/\s/g, "")).toContain(link) // the same ways out in both
  }
  expect(html + mail.text).not.toMatch(/[\uE000-\uF8FF]|‹|data-word/) // no mark of ours is left standing
}

const people = [
  ["Ines", "ines@post.example"],
  ["さくら", "sakura@post.example"],
  ["نور الهدى", "noor@post.example"],
  ["Łucja-Élodie O'Neil", "lucja@post.example"],
  ['Bo "the jar" <Salt>, Jr.', "bo@post.example"],
  ["👩🏽‍🌾 Farmer", "farmer@post.example"],
  ["", "nameless@post.example"],
] as const

describe.each(people)("to %j", (name, email) => {
  it("the confirmation, the lesson and the way in read as they should", async () => {
    await join_(t, school, email, { name, ip: `192.0.2.${email.length}` })
    const confirm = await newest(email)
    sound(confirm)
    expect([confirm.mail.to].flat()[0]!.value).toEqual([{ address: email, name }])
    expect(confirm.mail.headers.has("list")).toBe(false) // asked for, so there is nothing to unsubscribe from
    expect(confirm.head).toMatch(/^Auto-Submitted: auto-generated$/m) // RFC 3834
    if (name) expect(confirm.mail.text).toContain(`Hello ${name},`)
    else expect(confirm.mail.text).toContain("Hello,")
    const token = /\/confirm\/([\w.-]+)/.exec(confirm.mail.text!)![1]!
    expect(await confirmJoin(t.s, verifyId(t.s.config.secret, "confirm", token)!, { ip: "" })).toHaveProperty("session")

    const lesson = await newest(email)
    sound(lesson)
    expect(lesson.mail.subject).toBe("1 of 3: Lesson 1")
    expect(lesson.mail.text).toContain(name ? `Hello ${name},` : "Hello friend,")
    const leave = /^List-Unsubscribe: <(http:\/\/localhost:4799\/mails\/[\w.-]+\?mail=\d+)>$/m.exec(
      lesson.head.replace(/\r\n[ \t]+/g, " ").replaceAll("\r", ""),
    )
    expect(leave).not.toBeNull()
    expect(lesson.head).toMatch(/^List-Unsubscribe-Post: List-Unsubscribe=One-Click$/m) // RFC 8058, 3.1
    expect(lesson.head).toMatch(/^List-ID: <sequence-\d+\.localhost>$/m) // RFC 2919, 3
    expect(linksOf(String(lesson.mail.html))).toContain(leave![1])
    expect(linksOf(String(lesson.mail.html)).some((l) => l.includes("/go/"))).toBe(true)

    await askWayIn(t.s, email, "192.0.2.200", "/learn/first")
    const wayIn = await newest(email)
    sound(wayIn)
    expect(wayIn.mail.subject).toBe("Your sign-in link for Gärtopf & “Söhne”")
    expect(wayIn.mail.headers.has("list")).toBe(false)
    expect(wayIn.mail.text).toMatch(/\/way-in\/\d+\.[\w-]{27}/)
  })
})

describe("what a marketer types", () => {
  it("comes as typed: a subject in several scripts with a chip, links tracked, text escaped", async () => {
    const mail = (await loadFunnel(t.s.db, school.funnel))!.sequences[0]!.mails[1]!
    const saved = await saveMail(t.s, {
      mail: mail.id,
      subject: "‹first name, else friend›: 塩と水, الملح والماء & <b>more</b>",
      body: '<h2>Salt &amp; water</h2><p>From <span data-word="teacher" data-else="us">teacher</span> of <span data-word="course" data-else="">course</span>: <a href="https://salt.example/?a=1&amp;b=2">see</a></p>',
      button: "Open “2”",
      lesson: mail.lessonId,
      step: null,
    })
    expect(saved).toHaveProperty("revision")
    expect(await putLive(t.s, (await loadFunnel(t.s.db, school.funnel))!.sequences[0]!.id)).toEqual({ ok: true })
    t.set(Math.ceil(t.at() / 86_400_000 + 1) * 86_400_000 + 43_200_000) // a day later, at noon: nights are left quiet
    const got = await newest("bo@post.example")
    sound(got)
    expect(got.mail.subject).toBe('Bo "the jar" <Salt>, Jr.: 塩と水, الملح والماء & <b>more</b>')
    expect(got.mail.text).toContain("From Maren of First: see")
    expect(got.raw).not.toContain("salt.example")
    const nameless = await newest("nameless@post.example")
    expect(nameless.mail.subject).toMatch(/^friend: /)
  })
})
