// Who came to the demo's webinar: registered, reminded, there from when to when, what they said and bought; as bulk rows.
import { slugOf } from "@/core/funnel/slug"
import { attendanceOf, lengthOf, presenceOf, type Stay } from "@/core/webinar/attendance"
import { dayEnd } from "@/core/webinar/until"
import type { Db } from "@/server/db/pool"
import { searchedText } from "@/server/person/person"
import { firstNames, sources, zones } from "./lessons"
import { fact } from "./rows"
import { arrive, buy, type Make, type Way } from "./sales"
import { seeded } from "./seeded"
import { sourceAt } from "./traffic"
import { behind, type DemoWebinar, minutes, offerMinute, polls, type Sent, title } from "./webinar"

const day = 86_400_000
const minute = 60_000

/** Rows of what only a webinar has. */
export type Seats = {
  readonly registrations: unknown[][]
  readonly stays: unknown[][]
  readonly said: unknown[][]
  readonly polls: unknown[][]
  readonly votes: unknown[][]
  readonly reminded: unknown[][]
}

type Guest = { id: number; name: string; email: string; zone: string }

/** Everything that came of the dates, into the rows of `m` and those that are given. */
/** `share`: how many there are, of as many as the demo has. */
export function holdWebinars(before: Make, w: DemoWebinar, share: number): Seats {
  const coupons = sources.map((x) => ({ code: w.coupon.code, source: x.name, coupon: w.coupon }))
  const shop = { ...before.shop, release: w.release }
  const m: Make = { ...before, funnel: w.funnel, shop, coupons, random: seeded(312) }
  const seats: Seats = { registrations: [], stays: [], said: [], polls: [], votes: [], reminded: [] }
  for (const [k, d] of w.dates.entries()) oneDate(m, w, d, k, seats, share)
  return seats
}

function oneDate(
  m: Make,
  w: DemoWebinar,
  date: { id: number; starts: number },
  k: number,
  seats: Seats,
  share: number,
): void {
  const { random } = m
  const over = date.starts < m.now
  const wanted = Math.ceil((58 + 5 * k + random.between(-8, 8)) * share)
  for (const p of polls)
    if (over)
      seats.polls.push([
        100 * (k + 1) + p.id,
        date.id,
        p.id,
        p.question,
        JSON.stringify(p.answers),
        new Date(date.starts + p.minute * minute),
      ])
  // The last hours before it bring the most.
  for (let i = 0; i < wanted * 2.6; i++) {
    const at = Math.round(date.starts - 13 * day * random() ** 2.2 - 5 * minute)
    if (at < m.now - minute) oneVisitor(m, w, date, k, at, seats)
  }
}

function oneVisitor(
  m: Make,
  w: DemoWebinar,
  date: { id: number; starts: number },
  k: number,
  at: number,
  seats: Seats,
): void {
  const { random, funnel } = m
  const [registration, confirmation, replay, sales, checkout] = funnel.steps
  const visitor = Buffer.alloc(16)
  for (let i = 0; i < 16; i += 4) visitor.writeUInt32BE(Math.floor(random() * 2 ** 32), i)
  const source = sourceAt(random() * 100)
  const way: Way = {
    visitor,
    source: source.name,
    begun: new Date(at),
    step: registration!.id,
    at,
    paid: 0,
    person: null,
  }
  const finish = (rest = way.at) =>
    m.rows.journeys.push([funnel.id, visitor, way.person, way.source, way.begun, way.step, new Date(rest), way.paid])
  arrive(m, way, registration!.id, at, null)
  const taken = Math.round(at + random.between(0.5, 6) * minute)
  if (!random.chance(0.385 * source.ready) || taken > m.now - minute || taken > date.starts) return void finish()
  const g = guestOf(m, way, taken)
  const id = seats.registrations.length + 1
  arrive(m, way, confirmation!.id, taken, "registered")
  const told = { person: g.id, subject: w.id, words: title }
  m.rows.facts.push(fact("registered", taken, told))
  const opened = remind(m, w, date, g, taken, seats)
  if (date.starts > m.now) {
    seats.registrations.push([
      id,
      w.id,
      date.id,
      g.id,
      visitor,
      "registered",
      new Date(taken),
      null,
      0,
      null,
      null,
      null,
      null,
    ])
    return void finish(date.starts)
  }
  const lead = date.starts - taken
  const comes = (lead < day ? 0.56 : lead < 3 * day ? 0.44 : lead < 7 * day ? 0.35 : 0.26) * (opened ? 1.25 : 0.62)
  const stays = random.chance(comes * source.ready) ? staysOf(random, date.starts) : []
  for (const s of stays) seats.stays.push([id, deviceOf(id), new Date(s.from), new Date(s.to)])
  const within = { from: date.starts, to: date.starts + minutes * minute }
  const presence = presenceOf(stays, within)
  const came = attendanceOf(presence, within, { attended: 60, missed: 5 })
  const last = presence.at(-1)?.to ?? 0
  const saw = presence.length > 0 && last > date.starts + offerMinute * minute
  const pressed =
    saw && random.chance(0.38) ? Math.round(date.starts + random.between(offerMinute + 1, minutes) * minute) : null
  const until = new Date(dayEnd(date.starts, 3, g.zone))
  seats.registrations.push([
    id,
    w.id,
    date.id,
    g.id,
    visitor,
    "registered",
    new Date(taken),
    came,
    lengthOf(presence),
    saw ? new Date(date.starts + offerMinute * minute) : null,
    pressed && new Date(pressed),
    until,
    until,
  ])
  m.rows.facts.push(fact(came, within.to, { ...told, once: `came:${id}` }))
  talk(m, date, k, id, presence, seats)
  followUp(m, w, g, within.to, until.getTime(), came === "attended", seats)
  const leads = came === "attended" ? sales! : replay!
  if (pressed) {
    arrive(m, way, checkout!.id, pressed, "clicked")
    buy(m, way, checkout!, Math.round(pressed + random.between(2, 9) * minute), { ...g, joined: taken })
  } else {
    arrive(m, way, leads.id, within.to, came)
    const looks = Math.round(within.to + random.between(0.5, 40) * 3_600_000)
    const goes = came === "attended" ? 0.3 : 0.14
    if (random.chance(goes) && looks < m.now) {
      arrive(m, way, checkout!.id, looks, "clicked")
      if (random.chance(0.5))
        buy(m, way, checkout!, Math.round(looks + random.between(2, 9) * minute), { ...g, joined: taken })
    }
  }
  finish()
}

/** Somebody who is known, or new: then they are put down with what they agreed to. */
function guestOf(m: Make, way: Way, at: number): Guest {
  const known = m.learners.findIndex((l) => l.joined < at - day)
  if (known >= 0 && m.random.chance(0.45)) {
    const i = Math.min(m.learners.length - 1, known + Math.floor(m.random() * 500))
    const [learner] = m.learners.splice(i, 1)
    if (learner && learner.joined < at) {
      way.person = learner.id
      return learner
    }
  }
  const id = ++m.next.person
  const name = m.random.pick(firstNames)
  const email = `${slugOf(name, "guest")}.${id}@${m.random.pick(["postbox", "kitchen-mail", "letterbox"])}.example`
  const where = m.random.pick(zones)
  m.rows.persons.push([id, name, email, where, new Date(at), way.source, searchedText(name, email)])
  m.rows.addresses.push([id, id, email, email, new Date(at), null, null, null])
  const wording = `Send me the way into “${title}” and reminders by e-mail, and afterwards now and then a letter. I can leave at any time with one click.`
  m.rows.consents.push([id, "given", new Date(at), new Date(at - minute), wording, "192.0.2.8", "/cloudy-brine"])
  way.person = id
  return { id, name, email, zone: where }
}

/** When they were there: some look in, some leave before the offer, some when it comes, most stay to the end. */
function staysOf(random: Make["random"], starts: number): Stay[] {
  const from = starts + random.between(-6, random.chance(0.2) ? 22 : 4) * minute
  const draw = random()
  const ends =
    draw < 0.09
      ? random.between(1, 5)
      : draw < 0.27
        ? random.between(8, 38)
        : draw < 0.42
          ? random.between(41, 47)
          : random.between(56, 60.4)
  const to = Math.max(from, starts + ends * minute)
  // A line that was lost for a while.
  if (random.chance(0.16) && to - from > 15 * minute) {
    const cut = from + (to - from) * random.between(0.3, 0.6)
    return [
      { from, to: cut },
      { from: cut + random.between(1.5, 5) * minute, to },
    ].filter((s) => s.from <= s.to)
  }
  return [{ from, to }]
}

const deviceOf = (id: number): Buffer => {
  const b = Buffer.alloc(8)
  b.writeUInt32BE(id, 4)
  return b
}

const lines = [
  "Good evening from Bergen!",
  "Mine looks like milk, day five.",
  "So I threw out a good jar last year …",
  "Three percent it is.",
  "Hello, first time here",
  "Thank you, that was worth it.",
]
const questions = [
  "Does the white floor change the taste?",
  "Can I use the brine for the next jar?",
  "What if it is cloudy and smells of nothing?",
  "Iodised salt: does it matter?",
]

function talk(
  m: Make,
  date: { id: number; starts: number },
  k: number,
  id: number,
  presence: readonly Stay[],
  seats: Seats,
): void {
  const { random } = m
  const last = presence.at(-1)
  if (!last) return
  const at = () => new Date(Math.round(presence[0]!.from + random() * (last.to - presence[0]!.from)))
  if (random.chance(0.16)) seats.said.push([date.id, id, "chat", random.pick(lines), at(), null])
  if (random.chance(0.06)) {
    const when = at()
    // Of the latest date some still wait for an answer.
    const answered = k < behind - 1 || random.chance(0.5) ? new Date(when.getTime() + 5 * minute) : null
    seats.said.push([date.id, id, "question", random.pick(questions), when, answered])
  }
  for (const p of polls)
    if (
      presence.some((s) => s.from <= date.starts + (p.minute + 2) * minute && s.to >= date.starts + p.minute * minute)
    )
      if (random.chance(0.6))
        seats.votes.push([
          100 * (k + 1) + p.id,
          id,
          Math.floor(random() ** 1.4 * p.answers.length),
          new Date(date.starts + (p.minute + 1) * minute),
        ])
}

/** The reminders that came in time; whether one was opened. */
function remind(m: Make, w: DemoWebinar, date: { starts: number }, g: Guest, taken: number, seats: Seats): boolean {
  const { random } = m
  const enrolment = ++m.next.enrolment
  let opened = false
  let waits: number | null = null
  for (const [i, before] of [1440, 60, 10].entries()) {
    const due = date.starts - before * minute
    if (due < taken) continue
    if (due > m.now) {
      waits ??= i
      continue
    }
    const read: number | null = random.chance(0.47) ? due + random.between(1, before / 2) * minute : null
    opened ||= read !== null
    wrote(m, w, seats, g, enrolment, w.reminders[i]!, due, read)
  }
  m.rows.enrolments.push([
    enrolment,
    g.id,
    w.reminders[0]!.sequence,
    w.funnel.id,
    new Date(taken),
    waits === null ? new Date(Math.max(taken, Math.min(m.now, date.starts - 10 * minute))) : null,
    waits === null ? "finished" : null,
    waits === null ? null : 2 * waits + 1,
    waits === null ? null : new Date(taken),
  ])
  return opened
}

/** An e-mail that was sent, and when it was opened, if it was. */
function wrote(
  m: Make,
  w: DemoWebinar,
  seats: Seats,
  g: Guest,
  enrolment: number,
  mail: Sent,
  due: number,
  read: number | null,
): void {
  const id = ++m.next.mail
  const sent = due + 3_000
  seats.reminded.push([
    id,
    `sequence:${enrolment}:${mail.mail}`,
    "sequence",
    g.id,
    g.email,
    g.name,
    w.funnel.id,
    enrolment,
    mail.mail,
    "sent",
    new Date(due),
    new Date(0),
    new Date(sent),
    mail.subject,
    read && read < m.now ? new Date(read) : null,
  ])
  const told = { once: `mailed:${id}`, person: g.id, funnel: w.funnel.id, subject: id, words: mail.subject }
  m.rows.facts.push(fact("mailed", sent, told))
}

/** What was written afterwards, to those who were there and to those who weren't: at once, and on the last day. */
function followUp(m: Make, w: DemoWebinar, g: Guest, over: number, until: number, there: boolean, seats: Seats): void {
  const mails = there ? w.offered : w.replayed
  const enrolment = ++m.next.enrolment
  const dues = [over + (there ? 60 : 30) * minute, until - 15 * 3_600_000]
  for (const [i, due] of dues.entries())
    if (due < m.now)
      wrote(
        m,
        w,
        seats,
        g,
        enrolment,
        mails[i]!,
        due,
        m.random.chance(0.41) ? due + m.random.between(2, 500) * minute : null,
      )
  const ended = dues[1]! < m.now
  m.rows.enrolments.push([
    enrolment,
    g.id,
    mails[0]!.sequence,
    w.funnel.id,
    new Date(over),
    ended ? new Date(dues[1]!) : null,
    ended ? "finished" : null,
    ended ? null : 3,
    ended ? null : new Date(dues[0]!),
  ])
}

const inserts = {
  registrations:
    "registration (id, webinar_id, date_id, person_id, visitor, state, made_at, came, there_ms, saw_offer_at, pressed_at, deal_until, replay_until)",
  stays: "stay (registration_id, device, from_at, to_at)",
  said: "room_message (date_id, registration_id, kind, words, at, answered_at)",
  polls: "poll (id, date_id, plan, question, answers, opened_at)",
  votes: "poll_vote (poll_id, registration_id, answer, at)",
  reminded:
    "mail (id, once, kind, person_id, to_email, to_name, funnel_id, enrolment_id, sequence_mail_id, state, due_at, try_at, sent_at, subject, opened_at)",
} as const

/** After the people of the shared rows are there. */
export async function writeSeats(db: Db, w: DemoWebinar, seats: Seats, now: number): Promise<void> {
  for (const [name, into] of Object.entries(inserts) as [keyof Seats, string][])
    for (let i = 0; i < seats[name].length; i += 1000)
      await db.write(`INSERT INTO ${into} VALUES ?`, [seats[name].slice(i, i + 1000)])
  // Those who wait for the start are looked at soon, and wait on.
  await db.write("UPDATE enrolment SET due_at = ? WHERE sequence_id IN (?) AND ended_at IS NULL", [
    new Date(now),
    [w.reminders, w.offered, w.replayed].map((mails) => mails[0]!.sequence),
  ])
  await db.write("UPDATE webinar_date SET settled_at = over_at WHERE webinar_id = ? AND over_at < ?", [
    w.id,
    new Date(now),
  ])
}
