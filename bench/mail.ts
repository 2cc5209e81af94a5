// From due rows to the SMTP server, against a bare nodemailer pool that sends the same messages to it.
import { type ChildProcess, fork } from "node:child_process"
import { loadDemo } from "@demo/load"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { configFromEnvironment } from "@/server/config"
import { type Context, closeContext } from "@/server/context"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { sendDue } from "@/server/mail/send"
import { openContext } from "@/server/open"
import { type Message, mailLanes, smtpMailer } from "@/server/port/mailer"
import { type Line, median } from "./report"

const messages = 2000
const rounds = 3

export async function benchMail(folder: string): Promise<Line[]> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const sink = fork("bench/sink.ts", { execArgv: ["--import", "tsx"] })
  const port = await new Promise<number>((ready) => sink.once("message", (p) => ready(p as number)))
  const environment = {
    ...process.env,
    DATABASE_URL: mariadb.url,
    HERON_MODE: "test",
    HERON_DATA: folder,
    HERON_SECRET: "bench",
    SMTP_URL: `smtp://127.0.0.1:${port}`,
  }
  const db = openDatabase(mariadb.url, 2)
  await migrate(db)
  await db.end()
  const s = openContext(configFromEnvironment(environment))
  const other = openContext(configFromEnvironment(environment))
  try {
    await loadDemo(s, 200)
    await s.db.write("UPDATE mail SET state = 'cancelled' WHERE state = 'due'")
    const kept: Message[] = []
    await fill(s, "warm", 400)
    await sendDue({ ...s, mailer: { ...s.mailer, send: async (m) => void kept.push(m) } }, "keep")
    const one: number[] = []
    const two: number[] = []
    const bare: number[] = []
    for (let round = 0; round < rounds; round++) {
      bare.push(await timed(sink, () => sendBare(`smtp://127.0.0.1:${port}`, kept)))
      await fill(s, `one${round}`, messages)
      one.push(await timed(sink, () => sendDue(s, "one")))
      await fill(s, `two${round}`, messages)
      two.push(await timed(sink, () => Promise.all([sendDue(s, "one"), sendDue(other, "two")])))
    }
    const against = median(bare)
    const line = (what: string, rates: number[]): Line => ({
      what,
      ours: `${median(rates).toFixed(0)} a second`,
      against: `${against.toFixed(0)} a second`,
      ratio: (median(rates) / against).toFixed(2),
      wanted: "at least 0.6",
    })
    return [line("messages, one worker", one), line("messages, two workers sharing, none twice", two)]
  } finally {
    sink.disconnect()
    await closeContext(s)
    await closeContext(other)
    await mariadb.stop()
  }
}

/** Messages a second, by what the server received; throws where one came twice or is missing. */
async function timed(sink: ChildProcess, work: () => Promise<unknown>): Promise<number> {
  const start = performance.now()
  await work()
  const seconds = (performance.now() - start) / 1000
  const got = await new Promise<{ messages: number; twice: number }>((answer) => {
    sink.once("message", (m) => answer(m as { messages: number; twice: number }))
    sink.send("count")
  })
  if (got.twice || got.messages !== messages) throw new Error(`${got.messages} of ${messages} came, ${got.twice} twice`)
  return messages / seconds
}

async function sendBare(url: string, letters: readonly Message[]): Promise<void> {
  const mailer = smtpMailer(url)
  let next = 0
  await Promise.all(
    Array.from({ length: mailLanes * 3 }, async () => {
      for (let i = next++; i < messages; i = next++)
        await mailer.send({ ...letters[i % letters.length]!, to: { name: "P", address: `bare${i}@post.example` } })
    }),
  )
  mailer.close()
}

async function fill(s: Context, name: string, n: number): Promise<void> {
  const at = new Date(Date.now() - 1000)
  const mail = (await s.db.row<{ id: number; sequence_id: number; funnel_id: number }>(
    "SELECT m.id, m.sequence_id, (SELECT MIN(funnel_id) FROM reference WHERE sequence_id = m.sequence_id) AS funnel_id FROM sequence_mail m ORDER BY m.id LIMIT 1",
  ))!
  const first = (await s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM person"))!.id + 1
  const enrolment = (await s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM enrolment"))!.id + 1
  const rows = Array.from({ length: n }, (_, i) => ({
    person: first + i,
    enrolment: enrolment + i,
    email: `${name}-${i}@post.example`,
  }))
  await s.db.write("INSERT INTO person (id, name, email, zone, joined_at) VALUES ?", [
    rows.map((r) => [r.person, "Ines", r.email, "Europe/Oslo", at]),
  ])
  await s.db.write("INSERT INTO address (person_id, email, canonical, confirmed_at) VALUES ?", [
    rows.map((r) => [r.person, r.email, r.email, at]),
  ])
  await s.db.write("INSERT INTO enrolment (id, person_id, sequence_id, funnel_id, begun_at) VALUES ?", [
    rows.map((r) => [r.enrolment, r.person, mail.sequence_id, mail.funnel_id, at]),
  ])
  await s.db.write(
    "INSERT INTO mail (once, kind, person_id, to_email, to_name, funnel_id, enrolment_id, sequence_mail_id, due_at, try_at) VALUES ?",
    [
      rows.map((r) => [
        `bench:${r.email}`,
        "sequence",
        r.person,
        r.email,
        "Ines",
        mail.funnel_id,
        r.enrolment,
        mail.id,
        at,
        new Date(0),
      ]),
    ],
  )
}
