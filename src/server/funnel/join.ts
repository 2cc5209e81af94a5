// Joining a funnel: the form, the mail, the press. What a stranger types proves nothing; only the press does.

import { programmeRuns } from "@/core/affiliate/programme"
import { knownZone } from "@/core/calendar/zone"
import { addressOf } from "@/core/funnel/address"
import { type Funnel, type Step, stepById, streamTo } from "@/core/funnel/draft"
import { type Outcome, outcomesOf, recruitsFor, webinarOf } from "@/core/funnel/step/list"
import { waitedFor } from "@/core/page/block/catalogue"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { type AskedField, readValue } from "@/core/person/field"
import { parseName } from "@/core/person/name"
import { refsOfDeed } from "@/core/sequence/effect/list"
import { words } from "@/core/words/en"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { type FieldAnswers, keepAnswers } from "../person/field"
import { mayMailAddress, queueWayIn } from "../person/way-in"
import { programmeOf } from "../programme/programme"
import { queueMail } from "../queue-mail"
import type { Release } from "../releases"
import { schoolRow } from "../school-view"
import { chosenDate, type Looking } from "../webinar/offered"
import { holdSeat, noteWanted, type Seat, takeHeldSeat, takeSeat } from "../webinar/seat"
import { tellOfSeat } from "../webinar/tell"
import { restUntilStart } from "./after-webinar"
import { arrive } from "./journey"
import { becomeKnown, knownHere } from "./known"
import { leave, setOff } from "./leave"
import { releaseOfForm } from "./release"

export type JoinForm = {
  readonly release: string
  readonly email: string
  readonly name: string
  readonly zone: string
  /** What was typed into fields, by their number. */
  readonly answers?: FieldAnswers
  /** The date of a webinar, as its form sent it. */
  readonly date?: string
  /** The course that they want to be told of, by its number. */
  readonly wait?: string
  /** The version of the conditions that were agreed to. */
  readonly agreed?: string
  /** Filled in only by programs. */
  readonly website: string
}

export type JoinFrom = { readonly path: string; readonly ip: string; readonly visitor: Buffer; readonly source: string }

export type Joined =
  | { readonly refused: "form"; readonly says: string }
  | { readonly refused: "rate"; readonly says: string }
  | { readonly refused: "gone" }
  /** The page has been replaced for longer than its forms are taken. */
  | { readonly refused: "old"; readonly says: string }
  /** The next page; the same for everyone. */
  | { readonly goTo: string }

/** How long the link in a confirmation mail works, ms of business time. */
const confirmWithin = 7 * 86_400_000

type SentFrom = {
  readonly release: Release
  readonly page: Release["pages"][number]
  readonly step: Step
  readonly outcome: Outcome
  readonly next: Step
}

/** What a form was sent from, by the release that it carries: its page, the outcome it is, and the step that follows. */
async function formAt(
  s: Context,
  carried: string,
  path: string,
): Promise<SentFrom | Extract<Joined, { refused: "old" | "gone" }>> {
  const release = await releaseOfForm(s, carried)
  if (release === "old") return { refused: "old", says: words.join.changed }
  const page = release?.pages.find((p) => p.path === path)
  const step = release && page && stepById(release.funnel, page.step)
  const outcome = step && outcomesOf(step.kind)[0]
  const next = step && outcome && streamTo(release.funnel, step.id, outcome)
  return release && page && step && outcome && next ? { release, page, step, outcome, next } : { refused: "gone" }
}

/** Takes an opt-in form. It writes a pending join and a mail, and tells nobody whether the address is known. */
export async function joinFunnel(s: Context, form: JoinForm, from: JoinFrom): Promise<Joined> {
  const sent = await formAt(s, form.release, from.path)
  if ("refused" in sent) return sent
  const { release, page, step, outcome, next } = sent
  const goTo = addressOf(release.funnel, next)
  if (form.website !== "") return { goTo }
  const address = parseAddress(form.email)
  if (!address) return { refused: "form", says: words.join.badEmail }
  const closed = await closedToSignUp(s.db, release.funnel, [step.id, next.id])
  if (closed !== null) return { refused: "form", says: words.join.closed(closed) }
  const name = parseName(form.name)
  if (name === null) return { refused: "form", says: words.join.badName }
  const waits = Number(form.wait) || null
  if (waits !== null && !waitedFor(step.page).includes(waits)) return { refused: "gone" }
  const version = await agreedTo(s, step, form.agreed)
  if (typeof version === "string") return { refused: "form", says: version }
  const answers = answersTo(page.asks ?? [], form.answers ?? {})
  if (typeof answers === "string") return { refused: "form", says: answers }
  if (!(await mayTry(s.db, `join:${connectionOf(from.ip)}`, { most: 600, windowMs: 3_600_000 })))
    return { refused: "rate", says: words.join.tooMany }

  const school = await schoolRow(s.db)
  const zone = knownZone(form.zone, school?.zone ?? "UTC")
  const now = await s.clock.now()
  const at = new Date(now)
  // Counted outside the transaction, and only what would send mail to an address not written to just now.
  const done = await s.db
    .transaction(async (tx) => {
      await arrive(tx, {
        funnel: release.funnel.id,
        visitor: from.visitor,
        step: step.id,
        outcome: null,
        via: "page",
        at: now,
        source: from.source,
        againAfter: release.funnel.againAfter,
      })
      await leave(tx, { release, step: step.id, outcome, at: now, person: null, visitor: from.visitor })
      const seat = await seatWanted(tx, step, form.date, { visitor: from.visitor, zone })
      if (
        !(await mayMailAddress(
          tx,
          address.canonical,
          waits === null ? `funnel:${release.funnel.id}` : `waits:${waits}`,
        ))
      ) {
        // They were written to just now: only the date they chose is another.
        if (seat !== null && !(await moveHeld(tx, seat, address.canonical, from.visitor, now)))
          await noteWanted(tx, seat, from.visitor, now)
        return true
      }
      if (!(await mayTry(tx, `join-mail:${connectionOf(from.ip)}`, { most: 40, windowMs: 3_600_000 })))
        throw new TooMany()
      const known = seat === null && waits === null ? await knownHere(tx, address.canonical, release) : undefined
      if (known) {
        await queueWayIn(tx, {
          person: known.person,
          email: known.email,
          name: known.name,
          leadsTo: known.leadsTo,
          at: now,
        })
        await happen(tx, [{ kind: "asked-again", at: now, person: known.person, funnel: release.funnel.id }])
        return true
      }
      const pending = await tx.insert("pending_join", {
        canonical: address.canonical,
        email: address.email,
        name,
        zone,
        wording: page.consent,
        ip: from.ip,
        page: `/${from.path}`,
        funnel_id: release.funnel.id,
        release_id: release.id,
        step_id: step.id,
        inbox_step_id: next.id,
        visitor: from.visitor,
        asked_at: at,
        expires_at: new Date(now + confirmWithin),
        answers: JSON.stringify(answers),
        agreed_version: version,
        waits_course_id: waits,
      })
      if (seat !== null) refuseFull(await holdSeat(tx, seat, pending.id, now, from.visitor))
      // Without double opt-in a new address begins at once. It lets nobody in and changes nothing about anyone known:
      // that still takes the press.
      const atOnce =
        page.confirm === false && !(await tx.row("SELECT 1 FROM address WHERE canonical = ?", [address.canonical]))
      // Whoever has a seat at once is written to about that, and has nothing to press for it.
      if (seat === null || !atOnce)
        await queueMail(tx, {
          once: `confirm:${pending.id}`,
          kind: "confirm",
          to_email: address.email,
          to_name: name,
          funnel_id: release.funnel.id,
          pending_join_id: pending.id,
          due_at: at,
        })
      if (atOnce) {
        const join = {
          ...address,
          name,
          zone,
          wording: page.consent,
          page: `/${from.path}`,
          visitor: from.visitor,
          answers,
        }
        const person = await becomeKnown(tx, release, { ...join, asked_at: at, confirmed: false }, from.ip, now)
        const promised = { release, at: now }
        // The seat first: what is set off may wait for its date.
        if (seat !== null) await takeAndTell(tx, pending.id, person, now)
        await setOff(tx, { ...promised, step: step.id, outcome }, [person])
        await applied(tx, step, person, version, now)
        if (seat === null) await setOff(tx, { ...promised, step: next.id, outcome: "confirmed" }, [person])
      }
      return true
    })
    .catch((error) => {
      if (error instanceof TooMany) return false
      if (error instanceof NoSeat) return error.message
      throw error
    })
  if (typeof done === "string") return { refused: "form", says: done }
  return done ? { goTo } : { refused: "rate", says: words.join.tooMany }
}

/** Somebody whom their device has proved to be takes a seat: by one press, without a word to their mailbox first. */
export async function registerKnown(
  s: Context,
  form: Pick<JoinForm, "release" | "date" | "zone" | "answers">,
  from: JoinFrom & { readonly person: number },
): Promise<Joined> {
  const sent = await formAt(s, form.release, from.path)
  if ("refused" in sent) return sent
  const { release, page, step, outcome, next } = sent
  const answers = answersTo(page.asks ?? [], form.answers ?? {})
  if (typeof answers === "string") return { refused: "form", says: answers }
  const now = await s.clock.now()
  const { person, visitor } = from
  try {
    await s.db.transaction(async (tx) => {
      const date = await seatWanted(tx, step, form.date, { visitor, zone: form.zone })
      if (date === null) throw new NoSeat(words.webinar.chooseDate)
      const { id: funnel, againAfter } = release.funnel
      const here = { funnel, visitor, person, at: now, via: "page" as const }
      await arrive(tx, { ...here, step: step.id, outcome: null, source: from.source, againAfter })
      const seat = await takeSeat(tx, date, person, now)
      refuseFull(seat)
      if ("registration" in seat) {
        await tx.update("registration", seat.registration, { visitor })
        await tellOfSeat(tx, { registration: seat.registration }, now)
      }
      await keepAnswers(tx, person, answers, now)
      await leave(tx, { release, step: step.id, outcome, at: now, person, visitor })
      await restUntilStart(tx, person, webinarOf(step)!)
    })
  } catch (error) {
    if (error instanceof NoSeat) return { refused: "form", says: error.message }
    throw error
  }
  return { goTo: addressOf(release.funnel, next) }
}

/** What was typed into the fields that the page asked for, or what is wrong with it. */
function answersTo(asks: readonly AskedField[], typed: FieldAnswers): FieldAnswers | string {
  const answers: Record<string, string> = {}
  for (const ask of asks) {
    const value = readValue(ask, typed[ask.id] ?? "")
    if (value === null) return words.join.badAnswer(ask.label)
    if (!value && ask.required) return words.join.answerMissing(ask.label)
    if (value) answers[ask.id] = value
  }
  return answers
}

/** The title of a course that these steps open for an address, and that takes nobody by a form just now; null: none. */
async function closedToSignUp(db: Db, funnel: Funnel, steps: readonly number[]): Promise<string | null> {
  const opens = funnel.effects
    .filter((e) => steps.includes(e.step))
    .flatMap(refsOfDeed)
    .flatMap((r) => (r.to === "course" ? [r.id] : []))
  if (!opens.length) return null
  const row = await db.row<{ title: string }>(
    "SELECT title FROM course WHERE id IN (?) AND (state = 'closed' OR signing_up = 0) LIMIT 1",
    [opens],
  )
  return row?.title ?? null
}

/** The version of the conditions that whoever signs up as an affiliate agreed to; 0 where there are none; or what is wrong. */
async function agreedTo(s: Context, step: Step, typed: string | undefined): Promise<number | string> {
  const offer = recruitsFor(step)
  if (offer === null) return 0
  const p = await programmeOf(s.db, offer)
  if (!p || !programmeRuns(p, await s.clock.now())) return words.affiliate.closed
  if (p.conditionsVersion === 0 || typed === String(p.conditionsVersion)) return p.conditionsVersion
  return typed ? words.affiliate.changed : words.affiliate.agreeFirst
}

/** Whoever signed up as an affiliate, and has shown the mailbox to be theirs, asks to join. */
export async function applied(tx: Db, step: Step, person: number, version: number, at: number): Promise<void> {
  const offer = recruitsFor(step)
  if (offer !== null)
    await happen(tx, { kind: "affiliate-applied", at, person, subject: offer, words: step.name, data: { version } })
}

class TooMany extends Error {}

/** The date can't be had: nothing of the form is kept. */
class NoSeat extends Error {}

/** The date of a step's webinar that a form asks for; null where it is of none. */
async function seatWanted(tx: Db, step: Step, typed: string | undefined, who: Looking): Promise<number | null> {
  const webinar = webinarOf(step)
  if (webinar === null) return null
  const date = await chosenDate(tx, webinar, typed ?? "", who)
  if (date === null) throw new NoSeat(words.webinar.chooseDate)
  return date
}

function refuseFull(seat: Seat): void {
  if (!("refused" in seat)) return
  throw new NoSeat(
    seat.refused === "gone" ? words.webinar.chooseDate : seat.next ? words.webinar.full : words.webinar.noSeat,
  )
}

/** Somebody who has still to press the link of a moment ago wants another date: it is held instead. */
async function moveHeld(tx: Db, date: number, canonical: string, visitor: Buffer, now: number): Promise<boolean> {
  const open = await tx.row<{ registration: number; pending: number; date: number }>(
    `SELECT r.id AS registration, p.id AS pending, r.date_id AS date FROM pending_join p JOIN registration r ON r.pending_join_id = p.id AND r.state = 'held'
     WHERE p.canonical = ? AND p.visitor = ? AND p.pressed_at IS NULL AND p.expires_at > ? ORDER BY p.id DESC LIMIT 1 FOR UPDATE`,
    [canonical, visitor, new Date(now)],
  )
  if (!open) return false
  if (open.date === date) return true
  await tx.write("DELETE FROM registration WHERE id = ?", [open.registration])
  refuseFull(await holdSeat(tx, date, open.pending, now, visitor))
  return true
}

/** What was held is theirs, and they are written to about it. */
export async function takeAndTell(tx: Db, pending: number, person: number, now: number): Promise<Seat> {
  const seat = await takeHeldSeat(tx, pending, person, now)
  if ("registration" in seat) await tellOfSeat(tx, { registration: seat.registration }, now)
  return seat
}
