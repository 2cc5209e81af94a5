// The follow-up of the demo: a sales sequence behind the mini-course that ends at the purchase, a monthly letter that was sent with
// two subjects, and one that is being written.
import type { Broadcast } from "@/core/mail/broadcast"
import { newBroadcastDocument } from "@/core/mail/broadcast"
import { richChip } from "@/core/mail/chip"
import type { SendingRules } from "@/core/mail/sending-rules"
import type { SequenceStep } from "@/core/sequence/step/list"
import { newBroadcast, saveBroadcast, saveBroadcastPage } from "@/server/broadcast/store"
import type { Context } from "@/server/context"
import type { Db } from "@/server/db/pool"
import { addOnOccasion } from "@/server/funnel/occasion"
import { makeSigningKey, readDelivery, saveInclude } from "@/server/mail/dkim"
import { saveSendingRules } from "@/server/mail/hold"
import { addLetter, newSequence, saveMail, saveSequence } from "@/server/sequence/edit"
import { putLive } from "@/server/sequence/live"
import { setName } from "@/standins/names/server"
import { fact, noRows, writeRows } from "./rows"
import { keepToRules, readMails } from "./rules"

const day = 86_400_000

export type FollowUp = {
  readonly offer: number
  /** The course that is sold, and the last lesson of the mini-course. */
  readonly course: number
  readonly lastLesson: number
  readonly crockSequence: number
  readonly salesPage: number
  /** A field, and a picture. */
  readonly jars: number
  readonly picture: number
}

const hello = `<p>Hello ${richChip("first-name", "friend")},</p>`

export async function makeFollowUp(s: Context, f: FollowUp): Promise<void> {
  const now = await s.clock.now()
  const sequence = await salesSequence(s, f)
  await finishers(s, f, sequence, now)
  const manners: SendingRules = {
    hours: { from: 420, until: 1260 },
    weekdays: [1, 2, 3, 4, 5, 6, 7],
    perDay: 1,
    perWeek: 3,
    lateAfter: 48,
  }
  await saveSendingRules(s, manners)
  await sentLetter(s, f, now)
  await readMails(s.db)
  await keepToRules(s.db, manners, now)
  await domain(s)
  await nextLetter(s, f)
}

function must<T extends object>(done: T): Exclude<T, { refused: string }> {
  if ("refused" in done) throw new Error(String(done.refused))
  return done as Exclude<T, { refused: string }>
}

type Sales = {
  readonly id: number
  readonly mails: readonly { readonly id: number; readonly subject: string }[]
  readonly waits: readonly number[]
}

async function salesSequence(s: Context, f: FollowUp): Promise<Sales> {
  const { id } = must(await newSequence(s, "From a crock to a year"))
  const mails: { id: number; subject: string }[] = []
  const letter = async (subject: string, preview: string, body: string, button = "", step: number | null = null) => {
    const made = must(await addLetter(s, id))
    must(await saveMail(s, { mail: made.id, subject, preview, body: hello + body, button, lesson: null, step }))
    mails.push({ id: made.id, subject })
    return made.id
  }
  const first = await letter(
    "What comes after cabbage",
    "Twelve months, one vegetable each",
    "<p>your first crock is bubbling by now. When I had mine, I wanted to know what else would. The answer took me a year, and I have written that year down: a vegetable for each month, in the order in which the garden brings them.</p><p>Maren</p>",
    "See the year",
    f.salesPage,
  )
  const done = await letter(
    "You went all the way",
    "A question, and it is not about cabbage",
    "<p>you have done every lesson of The First Crock. Not everybody does. Tell me: what would you like to ferment next? Answer this e-mail; I read every one.</p><p>Maren</p>",
  )
  const undone = await letter(
    "Your last lesson is still there",
    "Six minutes, and the crock is yours",
    "<p>one lesson of The First Crock is still waiting: how to taste, when to stop, and how to keep it. It takes six minutes.</p><p>Maren</p>",
    "Open the last lesson",
  )
  await s.db.write("UPDATE sequence_mail SET lesson_id = ? WHERE id = ?", [f.lastLesson, undone])
  const last = await letter(
    "Three ways to pay for a year",
    "At once, in three parts, or month by month",
    "<p>this is the last I write about it: A Year in Ferments can be paid at once, in three parts, or month by month. If it is not for you now, keep the crock going. It is worth it by itself.</p><p>Maren</p>",
    "Have a look",
    f.salesPage,
  )
  const wait = (stepId: number, days: number): SequenceStep => ({
    id: stepId,
    kind: "wait",
    wait: { for: "days", days, at: 450 },
  })
  const send = (stepId: number, mail: number): SequenceStep => ({ id: stepId, kind: "send", mail })
  const steps: SequenceStep[] = [
    wait(1, 2),
    send(2, first),
    wait(3, 2),
    {
      id: 4,
      kind: "split",
      question: { match: "all", parts: [{ kind: "lesson", lesson: f.lastLesson, has: true }] },
      yes: [send(5, done)],
      no: [send(6, undone)],
    },
    wait(7, 3),
    send(8, last),
    { id: 9, kind: "effect", effect: { kind: "tag-on", settings: { tag: await tagNamed(s.db, "heard of the year") } } },
  ]
  must(
    await saveSequence(s, id, {
      flow: { goal: { match: "all", parts: [{ kind: "bought", offer: f.offer, has: true, days: null }] }, steps },
    }),
  )
  must(await putLive(s, id))
  must(
    await addOnOccasion(s, {
      occasion: "sequence-ended",
      of: f.crockSequence,
      kind: "begin-sequence",
      sequence: id,
      again: "no",
    }),
  )
  return { id, mails, waits: [1, 3, 7] }
}

async function tagNamed(db: Db, name: string): Promise<number> {
  await db.write("INSERT IGNORE INTO tag (name) VALUES (?)", [name])
  return (await db.row<{ id: number }>("SELECT id FROM tag WHERE name = ?", [name]))!.id
}

/** Those who came to the end of the mini-course in the last twelve days are in the sales sequence, each as far as the days say. */
async function finishers(s: Context, f: FollowUp, q: Sales, now: number): Promise<void> {
  const people = await s.db.rows<{ id: number; email: string; name: string; at: Date; done: number }>(
    `SELECT p.id, p.email, p.name, n.ended_at AS at, EXISTS (SELECT 1 FROM lesson_done d WHERE d.person_id = p.id AND d.lesson_id = ?) AS done
     FROM enrolment n JOIN person p ON p.id = n.person_id JOIN address a ON a.person_id = p.id AND a.suppressed IS NULL
     WHERE n.sequence_id = ? AND n.ended_why = 'finished' AND n.ended_at > ? AND NOT EXISTS (SELECT 1 FROM orders o WHERE o.person_id = p.id)
     ORDER BY n.ended_at, p.id`,
    [f.lastLesson, f.crockSequence, new Date(now - 12 * day)],
  )
  const rows = noRows()
  const next = await s.db.row<{ enrolment: number; mail: number }>(
    "SELECT (SELECT COALESCE(MAX(id), 0) FROM enrolment) AS enrolment, (SELECT COALESCE(MAX(id), 0) FROM mail) AS mail",
  )
  let [enrolment, mail] = [next!.enrolment, next!.mail]
  const [first, done, undone, last] = q.mails
  for (const p of people) {
    const begun = p.at.getTime()
    enrolment++
    const mails = [
      { ...first!, at: begun + 2 * day },
      { ...(p.done ? done! : undone!), at: begun + 4 * day },
      { ...last!, at: begun + 7 * day },
    ]
    const gone = mails.filter((m) => m.at <= now)
    const words = "From a crock to a year"
    rows.facts.push(fact("sequence-begun", begun, { person: p.id, subject: q.id, words }))
    for (const m of gone) {
      mail++
      rows.mails.push([
        mail,
        `sequence:${enrolment}:${m.id}`,
        "sequence",
        p.id,
        p.email,
        p.name,
        null,
        enrolment,
        m.id,
        null,
        "sent",
        new Date(m.at),
        new Date(0),
        new Date(m.at),
        m.subject,
        null,
      ])
      rows.facts.push(fact("mailed", m.at, { once: `mailed:${mail}`, person: p.id, subject: mail, words: m.subject }))
    }
    const over = gone.length === mails.length
    const ahead = mails[gone.length]
    // Before the split they wait at its wait; before an e-mail it is put down already.
    if (ahead && gone.length !== 1) {
      mail++
      rows.mails.push([
        mail,
        `sequence:${enrolment}:${ahead.id}`,
        "sequence",
        p.id,
        p.email,
        p.name,
        null,
        enrolment,
        ahead.id,
        null,
        "due",
        new Date(ahead.at),
        new Date(0),
        null,
        null,
        null,
      ])
    }
    rows.enrolments.push([
      enrolment,
      p.id,
      q.id,
      null,
      p.at,
      over ? new Date(mails[2]!.at) : null,
      over ? "finished" : null,
      over ? null : q.waits[gone.length],
      over ? null : new Date(gone.at(-1)?.at ?? begun),
    ])
    if (over)
      rows.facts.push(
        fact("sequence-ended", mails[2]!.at, { person: p.id, subject: q.id, words: `${words}: finished` }),
      )
  }
  await writeRows(s.db, rows)
  // Those who wait for the split are looked at when their wait is over; all of them listen for the purchase.
  await s.db.write("UPDATE enrolment SET listens = 1 WHERE sequence_id = ? AND ended_at IS NULL", [q.id])
  await s.db.write(
    "UPDATE enrolment SET due_at = arrived_at + INTERVAL 2 DAY WHERE sequence_id = ? AND ended_at IS NULL AND step = 3",
    [q.id],
  )
  await s.db.write("UPDATE sequence SET goes = 'asked' WHERE id = ?", [f.crockSequence])
}

const octoberBody = `${hello}<p>the first beets are in. This month: a kvass that is ready in five days, and why I stopped peeling.</p><p>You find the whole of it on the <a href="https://junipercrock.example/beets">page about beets</a>, with the table of salt for every weight.</p><p>Maren</p>`

/** A letter that went three weeks ago, with two subjects tried on a fifth. */
async function sentLetter(s: Context, f: FollowUp, now: number): Promise<void> {
  const { id } = must(await newBroadcast(s, "November: beets"))
  const document: Broadcast = {
    ...newBroadcastDocument,
    subjects: ["Beets, and what to do with all of them", "The beet that turned my kitchen red"],
    preview: "A kvass in five days",
    body: octoberBody,
    button: "See the year",
    step: f.salesPage,
  }
  must(await saveBroadcast(s, id, { document }))
  const at = now - 20 * day
  await s.db.write("UPDATE broadcast SET state = 'sent', winner = 1, planned_at = ?, begins_at = ? WHERE id = ?", [
    new Date(at - day),
    new Date(at),
    id,
  ])
  const die = (what: string) => `CRC32(CONCAT('${what}', p.id)) MOD 1000`
  const better = `(${die("try")} >= 200 OR ${die("try")} MOD 2 = 1)`
  await s.db.write(
    `INSERT INTO mail (once, kind, person_id, to_email, to_name, goes, broadcast_id, variant, state, due_at, try_at, sent_at, subject, bounced_at)
     SELECT CONCAT('broadcast:', ?, ':', p.id), 'broadcast', p.id, p.email, p.name, 'usual', ?, IF(${die("try")} < 200, ${die("try")} MOD 2, NULL), 'sent', x.at, '1970-01-01',
       x.at + INTERVAL ${die("sent")} SECOND, IF(${better}, ?, ?), IF(${die("bounce")} < 20, x.at + INTERVAL 1 HOUR, NULL)
     FROM person p JOIN address a ON a.person_id = p.id AND a.email = p.email, (SELECT ? AS at) x
     WHERE p.joined_at < x.at AND (a.suppressed IS NULL OR a.suppressed_at > x.at + INTERVAL 2 HOUR)
       AND (SELECT c.kind FROM consent c WHERE c.address_id = a.id AND c.at < x.at ORDER BY c.at DESC, c.id DESC LIMIT 1) = 'given' ORDER BY p.id`,
    [id, id, document.subjects[1], document.subjects[0], new Date(at)],
  )
  const soon = (what: string) => `m.sent_at + INTERVAL ${die(what)} MINUTE`
  const mine = "mail m JOIN person p ON p.id = m.person_id"
  await s.db.write(
    `UPDATE ${mine} SET m.clicked_at = ${soon("click")} WHERE m.broadcast_id = ? AND m.bounced_at IS NULL AND ${die("clicks")} < IF(${better}, 128, 64)`,
    [id],
  )
  await s.db.write(
    `UPDATE ${mine} SET m.opened_at = COALESCE(m.clicked_at, ${soon("open")}) WHERE m.broadcast_id = ? AND m.bounced_at IS NULL AND (m.clicked_at IS NOT NULL OR ${die("opens")} < 410)`,
    [id],
  )
  await s.db.write(
    `UPDATE ${mine} SET m.left_at = ${soon("leave")} WHERE m.broadcast_id = ? AND ${die("leaves")} < 4`,
    [id],
  )
  await s.db.write(
    `INSERT INTO mail_click (mail_id, link, at) SELECT m.id, IF(${die("link")} < 640, 0, 1), m.clicked_at FROM ${mine} WHERE m.broadcast_id = ? AND m.clicked_at IS NOT NULL`,
    [id],
  )
  await s.db.write(
    `INSERT INTO fact (once, at, recorded_at, kind, person_id, subject_id, words) SELECT UNHEX(LEFT(SHA2(CONCAT('mailed:', m.id), 256), 32)), m.sent_at, '1970-01-01', 'mailed', m.person_id, m.id, m.subject FROM mail m WHERE m.broadcast_id = ?`,
    [id],
  )
}

/** Mail is signed, and the name server stand-in has the records. */
async function domain(s: Context): Promise<void> {
  await makeSigningKey(s)
  await saveInclude(s, "ip4:127.0.0.1")
  for (const r of (await readDelivery(s)).records) await setName(s.config.dataFolder, r.name, [r.value])
}

/** The letter of December is being written. */
async function nextLetter(s: Context, f: FollowUp): Promise<void> {
  const evening = `${new Date((await s.clock.now()) + 21 * day).toISOString().slice(0, 10)}T19:00`
  const { id } = must(await newBroadcast(s, "December: the quiet jars"))
  const document: Broadcast = {
    ...newBroadcastDocument,
    to: { match: "all", parts: [{ kind: "joined", within: true, days: 60 }] },
    less: { match: "all", parts: [{ kind: "bought", offer: f.offer, has: true, days: null }] },
    subjects: ["The quiet jars of December", "What ferments when it is cold"],
    preview: "Nothing happens, and that is the point",
    when: { date: new Date((await s.clock.now()) + 5 * day).toISOString().slice(0, 10), at: 450, where: "reader" },
  }
  const saved = must(await saveBroadcast(s, id, { document }))
  const jars = richChip(`field-${f.jars}`, "quiet", "Jars at home")
  const evenings = richChip(`moment-${evening}`, "", "that evening at 19:00, where they are")
  const page = {
    version: 1,
    title: "E-mail",
    blocks: [
      {
        id: "hello",
        kind: "text",
        html: `${hello}<p>in December the crocks go quiet. Nothing bubbles, and that is as it should be: what is in your ${jars} jars now only gets better.</p>`,
      },
      { id: "crock", kind: "picture", media: f.picture, alt: "A crock between a cabbage and a twig of juniper" },
      { id: "year", kind: "headline", text: "A year of it" },
      {
        id: "months",
        kind: "columns",
        count: 2,
        blocks: [
          {
            id: "winter",
            kind: "text",
            html: "<h3>Winter</h3><p>Roots and cabbage. What is pressed in now is ready when the snow goes.</p>",
          },
          {
            id: "summer",
            kind: "text",
            html: "<h3>Summer</h3><p>Cucumbers, beans, soft fruit: days in place of weeks, and a cold cellar.</p>",
          },
        ],
      },
      { id: "price", kind: "price", offer: f.offer },
      { id: "see", kind: "button", says: "See the year", leads: { to: "step", step: f.salesPage } },
      { id: "questions", kind: "text", html: `<p>I answer questions on ${evenings}.</p>` },
      { id: "maren", kind: "signature", media: null, name: "Maren" },
    ],
  }
  must(await saveBroadcastPage(s, id, saved.revision, page))
}
