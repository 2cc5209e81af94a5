// Follow-up: a broadcast planned for many, many moved on through a sequence with splits at once, an occasion that sets off twenty
// things, and people from a file.
import pino from "pino"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { newBroadcastDocument } from "@/core/mail/broadcast"
import { nobody } from "@/core/person/actor"
import type { Segment } from "@/core/person/segment/segment"
import type { SequenceStep } from "@/core/sequence/step/list"
import { words } from "@/core/words/en"
import { planBroadcast } from "@/server/broadcast/plan"
import { newBroadcast, saveBroadcast } from "@/server/broadcast/store"
import { configFromEnvironment } from "@/server/config"
import type { Context } from "@/server/context"
import { migrate } from "@/server/db/migrate"
import { type Database, openDatabase } from "@/server/db/pool"
import { addOnOccasion } from "@/server/funnel/occasion"
import { wiring } from "@/server/listeners"
import { takeReport } from "@/server/mail/report"
import { peopleIn } from "@/server/person/count"
import { putTagsOn, takeTagOff } from "@/server/person/tag"
import { addLetter, newSequence, saveMail, saveSequence } from "@/server/sequence/edit"
import { putLive } from "@/server/sequence/live"
import { sequences } from "@/server/sequence/run"
import { signLower } from "@/server/sign"
import { fromFile } from "./from-file"
import { type Line, median } from "./report"
import { timed } from "./yardstick"

const people = 100_000

export async function benchFollowUp(folder: string): Promise<Line[]> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const open = () => openDatabase(mariadb.url, 8, 600_000, wiring)
  const db = open()
  const s = around(db, folder)
  try {
    await migrate(db)
    await fill(db)
    return [
      ...(await segments(s)),
      await broadcast(s),
      await moved(s, [around(open(), folder), around(open(), folder)]),
      await twenty(s),
      await comeBack(s),
      await fromFile(s, mariadb.url, 100_000),
    ]
  } finally {
    await db.end()
    await mariadb.stop()
  }
}

function around(db: Database, folder: string): Context {
  return {
    db,
    config: configFromEnvironment({ ...process.env, HERON_DATA: folder, HERON_MODE: "test", HERON_SECRET: "bench" }),
    clock: { now: async () => Date.now() },
    cards: null,
    meeting: null,
    mailer: { send: async () => {}, server: "", verify: async () => null, close: () => {} },
    log: pino({ level: "error" }),
    actor: nobody,
    releases: db.context.releases,
    words,
  }
}

async function fill(db: Database): Promise<void> {
  const at = new Date(Date.now() - 40 * 86_400_000)
  await db.write(
    "INSERT INTO school (id, name, sender_name, sender_email, postal_address, zone, look, currency) VALUES (1, 'S', 'S', 's@s.example', 'x', 'Europe/Oslo', 'harvest', 'EUR') ON DUPLICATE KEY UPDATE sender_name = 'S', sender_email = 's@s.example'",
  )
  await db.write("INSERT INTO tag (id, name) VALUES (1, 'half'), (2, 'third'), (3, 'set off')")
  const zones = ["Europe/Oslo", "America/Lima", "Asia/Kathmandu", "Australia/Sydney"]
  for (let from = 0; from < people; from += 5000) {
    const ids = Array.from({ length: 5000 }, (_, k) => from + k + 1)
    await db.write("INSERT INTO person (id, name, email, zone, joined_at, source, searched) VALUES ?", [
      ids.map((i) => [i, "Ines", `p${i}@post.example`, zones[i % 4], at, "letter", ""]),
    ])
    await db.write("INSERT INTO address (id, person_id, email, canonical, confirmed_at) VALUES ?", [
      ids.map((i) => [i, i, `p${i}@post.example`, `p${i}@post.example`, at]),
    ])
    await db.write("INSERT INTO consent (address_id, kind, at) VALUES ?", [ids.map((i) => [i, "given", at])])
  }
  await db.write("INSERT INTO person_tag SELECT id, 1, joined_at, joined_at FROM person WHERE id % 2 = 0")
  await db.write("INSERT INTO person_tag SELECT id, 2, joined_at, joined_at FROM person WHERE id % 3 = 0")
  await db.rows("ANALYZE TABLE person, address, consent, person_tag")
}

async function segments(s: Context): Promise<Line[]> {
  const question: Segment = {
    match: "all",
    parts: [
      { kind: "tag", tag: 1, has: true },
      { kind: "tag", tag: 2, has: false },
      { kind: "joined", within: true, days: 60 },
      { kind: "receives", is: true },
      { kind: "bought", offer: null, has: false, days: null },
    ],
  }
  const times: number[] = []
  for (let i = 0; i < 5; i++) {
    const began = performance.now()
    await peopleIn(s, question)
    times.push(performance.now() - began)
  }
  return [
    {
      what: "a segment of five conditions, counted, with twenty people",
      ...timed(median(times), 300, "query"),
    },
  ]
}

async function broadcast(s: Context): Promise<Line> {
  const { id } = (await newBroadcast(s, "B")) as { id: number }
  await saveBroadcast(s, id, {
    document: {
      ...newBroadcastDocument,
      subjects: ["A", "B"],
      body: "<p>x</p>",
      when: { date: "2030-01-01", at: 450, where: "reader" },
    },
  })
  const began = performance.now()
  const done = await planBroadcast(s, id)
  if ("refused" in done) throw new Error(done.refused)
  const took = (performance.now() - began) / 1000
  await s.db.write("DELETE FROM mail WHERE broadcast_id = ?", [id])
  return {
    what: "a broadcast to 100,000 planned, two subjects, by zone",
    ...timed(took * 1_000, 10_000, "write"),
  }
}

/** Everybody waits, and all waits are over in the same minute. */
async function moved(s: Context, workers: readonly Context[]): Promise<Line> {
  const { id } = (await newSequence(s, "Q")) as { id: number }
  const letter = async (subject: string) => {
    const made = (await addLetter(s, id)) as { id: number }
    await saveMail(s, { mail: made.id, subject, preview: "", body: "<p>x</p>", button: "", lesson: null, step: null })
    return made.id
  }
  const split = (stepId: number, tag: number, yes: SequenceStep[], no: SequenceStep[]): SequenceStep => ({
    id: stepId,
    kind: "split",
    question: { match: "all", parts: [{ kind: "tag", tag, has: true }] },
    yes,
    no,
  })
  const send = (stepId: number, mail: number): SequenceStep => ({ id: stepId, kind: "send", mail })
  const wait = (stepId: number): SequenceStep => ({ id: stepId, kind: "wait", wait: { for: "days", days: 1, at: 450 } })
  const [a, b, c] = [await letter("a"), await letter("b"), await letter("c")]
  const steps = [
    wait(1),
    split(2, 1, [split(3, 2, [send(4, a)], [wait(5), send(6, b)])], [wait(7), split(8, 2, [], [])]),
    send(9, c),
  ]
  await saveSequence(s, id, { flow: { goal: null, steps } })
  await putLive(s, id)
  const at = new Date(Date.now() - 3 * 86_400_000)
  await s.db.write(
    "INSERT INTO enrolment (person_id, sequence_id, begun_at, step, arrived_at, due_at) SELECT id, ?, ?, 1, ?, ? FROM person",
    [id, at, at, new Date(Date.now() - 1000)],
  )
  const began = performance.now()
  await Promise.all(workers.map((w, i) => sequences.run(w, `w${i}`)))
  const took = (performance.now() - began) / 1000
  const left = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM enrolment WHERE step = 1")
  if (Number(left?.n) > 0) throw new Error(`${left?.n} were not moved`)
  await Promise.all(workers.map((w) => w.db.end()))
  return { what: "100,000 moved on through splits, two workers", ...timed(took * 1_000, 60_000, "write") }
}

/** A tag that sets off twenty things. */
async function twenty(s: Context): Promise<Line> {
  for (let i = 0; i < 20; i++) {
    const done = await addOnOccasion(s, { occasion: "tagged", of: 3, kind: "tag-on", tag: `also ${i}` })
    if ("refused" in done) throw new Error(done.refused)
  }
  const times: number[] = []
  for (let person = 1; person <= 40; person++) {
    const about = { person, tag: 3, at: Date.now(), name: "set off" }
    const began = performance.now()
    await s.db.transaction((tx) => putTagsOn(tx, [about]))
    times.push(performance.now() - began)
    await s.db.transaction((tx) => takeTagOff(tx, about))
  }
  return {
    what: "an occasion that sets off twenty things",
    ...timed(median(times), 10, "write"),
  }
}

/** A letter to half of all that comes back for good, all reports at once (RFC 3464). */
async function comeBack(s: Context): Promise<Line> {
  const n = 50_000
  await s.db.write(
    `INSERT INTO mail (once, kind, state, person_id, to_email, goes, due_at, try_at, sent_at) SELECT CONCAT('back:', id), 'broadcast', 'sent', id, email, 'usual', NOW(), NOW(), NOW() FROM person WHERE id <= ?`,
    [n],
  )
  const mails = await s.db.rows<{ id: number; email: string }>(
    "SELECT id, to_email AS email FROM mail WHERE once LIKE 'back:%' ORDER BY id",
  )
  const report = (m: { id: number; email: string }) =>
    Buffer.from(
      [
        "From: MAILER-DAEMON@post.example",
        `To: bounce-${signLower(s.config.secret, "bounce", m.id)}@s.example`,
        "Subject: Undelivered",
        "MIME-Version: 1.0",
        'Content-Type: multipart/report; report-type=delivery-status; boundary="b"',
        "",
        "--b",
        "Content-Type: message/delivery-status",
        "",
        "Reporting-MTA: dns; post.example",
        "",
        `Final-Recipient: rfc822; ${m.email}`,
        "Action: failed",
        "Status: 5.1.1",
        "",
        "--b--",
        "",
      ].join("\r\n"),
    )
  const began = performance.now()
  let at = 0
  await Promise.all(
    Array.from({ length: 8 }, async () => {
      while (at < mails.length) await takeReport(s, report(mails[at++]!))
    }),
  )
  const took = (performance.now() - began) / 1000
  const left = await s.db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM address WHERE person_id <= ? AND suppressed IS NULL",
    [n],
  )
  if (Number(left?.n) > 0) throw new Error(`${left?.n} are still written to`)
  await s.db.write("UPDATE address SET suppressed = NULL")
  return { what: "50,000 e-mails that come back at once", ours: `${Math.round(n / took)}/s`, wanted: "nobody lost" }
}
