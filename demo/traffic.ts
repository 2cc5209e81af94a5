// Forty days of invented visitors, joins, mails and lessons, as bulk rows with the meaning that the use cases give them.
import type { Funnel, Sequence } from "@/core/funnel/draft"
import { slugOf } from "@/core/funnel/slug"
import { courseAt } from "@/core/funnel/step/list"
import { nextDue } from "@/core/mail/schedule"
import type { Db } from "@/server/db/pool"
import { searchedText } from "@/server/person/person"
import { firstNames, sources, zones } from "./lessons"
import { fact, noRows, type Rows, waitFor, writeRows } from "./rows"
import { type Seeded, seeded } from "./seeded"

const day = 86_400_000
const minute = 60_000

export type Traffic = {
  readonly funnel: Funnel
  readonly release: number
  readonly now: number
  readonly days: number
  readonly visitors: number
  readonly tag: number
}

export async function makeTraffic(db: Db, t: Traffic): Promise<void> {
  const random = seeded(20261124)
  const rows = noRows()
  const arrivals = Array.from({ length: t.visitors }, () => t.now - random() ** 0.85 * t.days * day)
    .map((at) => wave(at, random))
    .filter((at) => at < t.now - minute)
    .sort((a, b) => a - b)
  for (const at of arrivals) oneVisitor(rows, t, at, random)
  await writeRows(db, rows)
}

/** People come by day rather than by night, and more of them when the letter goes out on a Thursday. */
export function wave(at: number, random: Seeded): number {
  const date = new Date(at)
  const hour = 6 + (random() + random()) * 8
  const midnight = Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), date.getUTCDate())
  const thursday = midnight + ((4 - date.getUTCDay()) % 7) * day
  return Math.round((random.chance(0.25) && thursday > at - 4 * day ? thursday : midnight) + hour * 3_600_000)
}

function oneVisitor(rows: Rows, t: Traffic, at: number, random: Seeded): void {
  const [optin, inbox, welcome, learning] = t.funnel.steps
  const visitor = Buffer.alloc(16)
  for (let i = 0; i < 16; i += 4) visitor.writeUInt32BE(Math.floor(random() * 2 ** 32), i)
  const source = sourceAt(random() * 100)
  const begun = new Date(at)
  let rest = { step: optin!.id, at, from: null as number | null }
  const arrive = (step: number, when: number, outcome: string | null, via: string, person: number | null) => {
    rows.facts.push(
      fact("arrived", when, {
        once: `arrived:${t.funnel.id}:${visitor.toString("hex")}:${step}`,
        person,
        funnel: t.funnel.id,
        visitor,
        step,
        from: outcome ? rest.step : null,
        outcome,
        via,
        source: source.name,
        begun,
      }),
    )
    rest = { step, at: when, from: rest.step }
  }
  const finish = (person: number | null) =>
    rows.journeys.push([t.funnel.id, visitor, person, source.name, begun, rest.step, new Date(rest.at), 0])

  arrive(optin!.id, at, null, "source", null)
  const joined = Math.round(at + random.between(0.4, 6) * minute)
  if (!random.chance(0.42 * source.ready) || joined > t.now) return void finish(null)
  arrive(inbox!.id, joined, "joined", "page", null)
  const confirmed = Math.round(joined + random.between(0.5, 12) ** 2 * minute * 0.5)
  if (!random.chance(0.87) || confirmed > t.now) return void finish(null)

  const person = rows.persons.length + 1
  const name = random.pick(firstNames)
  const email = `${slugOf(name, "reader")}.${person}@${random.pick(["postbox", "kitchen-mail", "letterbox"])}.example`
  const zone = random.pick(zones)
  const when = new Date(confirmed)
  rows.persons.push([person, name, email, zone, when, source.name, searchedText(name, email)])
  const leaves = random.chance(0.035)
  const refused = random.chance(0.006)
  rows.consents.push([person, "given", when, new Date(joined), consentOf(t.funnel), "192.0.2.7", `/${optin!.path}`])
  rows.facts.push(fact("confirmed", confirmed, { person, funnel: t.funnel.id, words: consentOf(t.funnel) }))
  arrive(welcome!.id, confirmed, "confirmed", "page", person)
  const course = t.funnel.courses.find((c) => c.id === courseAt(learning!))!
  rows.admissions.push([person, course.id, null, `funnel:${t.funnel.id}`, null, when, null])
  rows.facts.push(fact("admitted", confirmed, { person, subject: course.id, words: course.title }))

  let open = 0
  const lesson = (i: number, at: number, byMail: boolean) => {
    const l = course.lessons[i]
    if (!l || at > t.now) return
    if (i < open) return
    open = i + 1
    rows.facts.push(
      fact("lesson-opened", at, { once: `opened:${person}:${l.id}`, person, subject: l.id, words: l.title }),
    )
    if (rest.step !== learning!.id) {
      arrive(learning!.id, at, "started", byMail ? "mail" : "page", person)
      rows.tags.push([person, t.tag, new Date(at), when])
      rows.facts.push(fact("tagged", at, { person, subject: t.tag, words: "first lesson" }))
    } else rest.at = at
    const ended = at + random.between(4, 25) * minute
    if (random.chance(0.78) && ended < t.now) {
      rows.done.push([person, l.id, new Date(ended)])
      rows.facts.push(
        fact("lesson-done", ended, { once: `done:${person}:${l.id}`, person, subject: l.id, words: l.title }),
      )
    }
  }
  if (random.chance(0.68)) lesson(0, confirmed + random.between(0.5, 4) * minute, false)
  const state = walkSequence(
    rows,
    t,
    t.funnel.sequences[0]!,
    { person, name, email, zone, begun: confirmed, leaves, refused },
    random,
    (i, at) => lesson(i, at, true),
    () => open > 0,
  )
  rows.addresses.push([
    person,
    person,
    email,
    email,
    when,
    state.suppressed,
    state.at && new Date(state.at),
    state.suppressed === "undeliverable" ? "550 5.1.1 No such mailbox here" : null,
  ])
  finish(person)
}

/** The source whose share of a hundred the draw falls into. */
export function sourceAt(draw: number): (typeof sources)[number] {
  let upTo = 0
  for (const s of sources) {
    upTo += s.share
    if (draw < upTo) return s
  }
  return sources[0]
}

function walkSequence(
  rows: Rows,
  t: Traffic,
  sequence: Sequence,
  p: { person: number; name: string; email: string; zone: string; begun: number; leaves: boolean; refused: boolean },
  random: Seeded,
  opened: (lesson: number, at: number) => void,
  active: () => boolean,
): { suppressed: string | null; at: number | null } {
  const enrolment = rows.enrolments.length + 1
  /** `at`: the e-mail that they wait for, since when. */
  const common = (ended: number | null, why: string | null, at?: { readonly mail: number; readonly since: number }) =>
    rows.enrolments.push([
      enrolment,
      p.person,
      sequence.id,
      t.funnel.id,
      new Date(p.begun),
      ended && new Date(ended),
      why,
      at ? waitFor(at.mail) : null,
      at ? new Date(at.since) : null,
    ])
  rows.facts.push(
    fact("sequence-begun", p.begun, {
      person: p.person,
      funnel: t.funnel.id,
      subject: sequence.id,
      words: sequence.name,
    }),
  )
  let from = p.begun
  const leavesAt = p.leaves ? Math.floor(random.between(1, sequence.mails.length)) : -1
  for (const [i, mail] of sequence.mails.entries()) {
    const due = nextDue(from, mail, p.zone)
    const id = rows.mails.length + 1
    const row = (state: string, sent: number | null, subject: string | null, trouble: string | null) =>
      rows.mails.push([
        id,
        `sequence:${enrolment}:${mail.id}`,
        "sequence",
        p.person,
        p.email,
        p.name,
        t.funnel.id,
        enrolment,
        mail.id,
        null,
        state,
        new Date(due),
        new Date(0),
        sent && new Date(sent),
        subject,
        trouble,
      ])
    if (due > t.now) {
      row("due", null, null, null)
      common(null, null, { mail: mail.id, since: from })
      return { suppressed: null, at: null }
    }
    const sent = Math.round(due + random.between(0.3, 4) * 1000)
    if (p.refused) {
      row("rejected", null, null, "550 5.1.1 No such mailbox here")
      rows.facts.push(
        fact("mail-rejected", sent, { person: p.person, subject: id, words: "550 5.1.1 No such mailbox here" }),
      )
      common(sent, "undeliverable")
      return { suppressed: "undeliverable", at: sent }
    }
    row("sent", sent, mail.subject, null)
    rows.facts.push(
      fact("mailed", sent, {
        once: `mailed:${id}`,
        person: p.person,
        funnel: t.funnel.id,
        subject: id,
        words: mail.subject,
      }),
    )
    const clicked = sent + random.between(2, 500) * minute
    if (random.chance((active() ? 0.62 : 0.24) - i * 0.05) && clicked < t.now) {
      rows.facts.push(
        fact("clicked", clicked, {
          once: `clicked:${id}:0`,
          person: p.person,
          funnel: t.funnel.id,
          subject: id,
          words: `/learn/the-first-crock/${mail.lessonId}`,
        }),
      )
      opened(i, clicked + 9_000)
    }
    if (i === leavesAt) {
      const left = sent + random.between(3, 90) * minute
      if (left < t.now) {
        rows.facts.push(fact("left-mail", left, { person: p.person, words: "the link in an e-mail" }))
        rows.consents.push([
          p.person,
          "withdrawn",
          new Date(left),
          null,
          "Stop these e-mails",
          "192.0.2.7",
          "the link in an e-mail",
        ])
        common(left, "left")
        return { suppressed: "left", at: left }
      }
    }
    from = sent
  }
  rows.facts.push(
    fact("sequence-ended", from, { person: p.person, subject: sequence.id, words: `${sequence.name}: finished` }),
  )
  common(from, "finished")
  return { suppressed: null, at: null }
}

function consentOf(funnel: Funnel): string {
  for (const b of funnel.steps[0]!.page!.blocks) if (b.kind === "form") return b.consent
  return ""
}
