// Today: who came and joined, what is broken, what is due next.

import { postedKinds } from "@/core/offer/gift/list"
import { isolate } from "@/core/words/isolate"
import { waitingOfAffiliates } from "./affiliate/ahead"
import type { Context } from "./context"
import { waitingHandIns } from "./course/hand-in"
import { whoIsNotIn } from "./course/members"
import { waitingComments } from "./course/talk"
import type { Db } from "./db/pool"
import { timerWorks } from "./due-list"
import { loadFunnel } from "./funnel/load"
import { checkFunnel } from "./funnel/release"
import { cameBetween } from "./funnel/rollup"
import { type Health, health } from "./health"
import { readDelivery } from "./mail/dkim"
import { ratesOf } from "./mail/report"
import { mailState } from "./mail/server"
import { noticesWithWhy } from "./notice/notice-view"
import { schoolRow } from "./school-view"
import { countsOf } from "./tally"
import { unknownTimers } from "./timer"
import { type NextDate, nextDate, webinarTroubles } from "./webinar/ahead"

export type Week = {
  /** By the definitions in core/words/figures.ts. */
  readonly visited: number
  readonly newPeople: number
  /** First orders that were paid. */
  readonly orders: number
  /** What came in by card less what went back, by currency. */
  readonly money: readonly { readonly currency: string; readonly amount: number }[]
}
export type Today = {
  readonly now: number
  readonly zone: string
  readonly week: Week
  readonly before: Week
  readonly broken: readonly { readonly words: string; readonly says: string; readonly href: string }[]
  /** `sequence`: whose e-mail it is; null for one that somebody asked for. */
  readonly next: { readonly at: number; readonly mails: number; readonly sequence: string | null } | null
  /** The next date of a webinar. */
  readonly webinar: NextDate | null
  readonly health: Health
  readonly funnels: number
  /** What is left to do until the first funnel is live; null once one has been. */
  readonly toDo: readonly ToDo[] | null
}

export type ToDo = { readonly done: boolean; readonly words: string; readonly says: string; readonly href: string }

const days7 = 7 * 86_400_000

export async function readToday(s: Context): Promise<Today> {
  const now = await s.clock.now()
  const school = await schoolRow(s.db)
  // Visitors are counted by quarter-hours: the week ends with this one.
  const quarter = Math.ceil(now / 900_000) * 900_000
  const state = await health(s)
  const funnels = await s.db.rows<{ id: number; name: string; live_release_id: number | null }>(
    "SELECT id, name, live_release_id FROM funnel ORDER BY id LIMIT 200",
  )
  const live = funnels.filter((f) => f.live_release_id !== null)
  const [
    thisWeek,
    before,
    inFunnels,
    selling,
    mails,
    records,
    chains,
    newer,
    waiting,
    talk,
    notices,
    webinars,
    affiliates,
    webinar,
    next,
    published,
  ] = await Promise.all([
    week(s.db, quarter - days7, quarter),
    week(s.db, quarter - 2 * days7, quarter - days7),
    brokenFunnels(s, live),
    brokenSelling(s.db),
    brokenMail(s.db, now),
    brokenRecords(s),
    stoppedChains(s.db, now),
    newerTimers(s.db, now),
    notIn(s),
    unread(s.db),
    deadNotices(s),
    webinarTroubles(s),
    waitingOfAffiliates(s.db, now),
    nextDate(s),
    nextUp(s.db),
    s.db.row("SELECT 1 FROM `release` LIMIT 1"),
  ])
  return {
    now,
    zone: school?.zone ?? "UTC",
    week: thisWeek,
    before,
    broken: [
      ...inFunnels,
      ...selling,
      ...mails,
      ...records,
      ...waiting,
      ...talk,
      ...affiliates,
      ...webinars,
      ...notices,
      ...chains,
      ...newer,
      ...brokenParts(state),
    ],
    next,
    webinar,
    health: state,
    funnels: funnels.length,
    toDo: published ? null : await readToDo(s, funnels[0]?.id ?? null),
  }
}

/** The way to a first live funnel, in the order in which it is gone. */
async function readToDo(s: Context, funnel: number | null): Promise<ToDo[]> {
  const course = await s.db.row<{ id: number; live: number }>(
    "SELECT c.id, (SELECT COUNT(*) FROM lesson l WHERE l.course_id = c.id AND l.state = 'live') AS live FROM course c ORDER BY c.id LIMIT 1",
  )
  const school = await schoolRow(s.db)
  const mail = await mailState(s, s.db)
  return [
    {
      done: mail === "well",
      words: mail === "none" ? "Connect a mail server, so that people can confirm" : "Have the mail server working",
      says: "Set up mail",
      href: "/studio/settings/mail",
    },
    {
      done: Boolean(school?.sender_email && school.postal_address),
      words: "Say who the e-mails come from, with a postal address",
      says: "Open the settings",
      href: "/studio/settings",
    },
    {
      done: (course?.live ?? 0) > 0,
      words: course ? "Write a lesson and put it live" : "Make a course with a first lesson",
      says: course ? "Open the course" : "Make a course",
      href: course ? `/studio/courses/${course.id}` : "/studio/courses",
    },
    {
      done: funnel !== null,
      words: "Make a funnel that gives it away",
      says: "New funnel",
      href: "/studio/funnels/new",
    },
    {
      done: false,
      words: "Publish it",
      says: "Open the funnel",
      href: funnel === null ? "/studio/funnels/new" : `/studio/funnels/${funnel}`,
    },
  ]
}

async function week(db: Db, from: number, to: number): Promise<Week> {
  const span = [new Date(from), new Date(to)]
  const came = await cameBetween(db, { from, to })
  const fresh = await db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM person WHERE joined_at >= ? AND joined_at < ?",
    span,
  )
  const orders = await db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM orders WHERE first_id IS NULL AND state IN ('paid', 'refunded') AND made_at >= ? AND made_at < ?",
    span,
  )
  const money = await db.rows<{ currency: string; amount: number }>(
    "SELECT currency, SUM(amount) AS amount FROM journal WHERE account = 'cards' AND at >= ? AND at < ? GROUP BY currency ORDER BY currency",
    span,
  )
  return {
    visited: [...came.values()].reduce((sum, n) => sum + n, 0),
    newPeople: fresh?.n ?? 0,
    orders: orders?.n ?? 0,
    money: money.map((m) => ({ currency: m.currency, amount: m.amount })),
  }
}

async function brokenFunnels(s: Context, funnels: { id: number; name: string }[]) {
  const all = await Promise.all(
    funnels.map(async (f) => {
      const funnel = await loadFunnel(s.db, f.id)
      return { f, stops: funnel ? (await checkFunnel(s, funnel)).filter((x) => x.weight === "stop") : [] }
    }),
  )
  const found = []
  for (const { f, stops } of all) {
    if (stops[0])
      found.push({
        words: `${f.name}: ${stops[0].suffers}${stops.length > 1 ? ` And ${stops.length - 1} more.` : ""}`,
        says: "Fix it",
        href: `/studio/funnels/${f.id}?preflight`,
      })
  }
  return found
}

/** Happenings that set one another off without an end, within the last week. */
async function stoppedChains(db: Db, now: number) {
  const rows = await db.rows<{ words: string | null }>(
    "SELECT words FROM fact WHERE kind = 'chain-stopped' AND at >= ? ORDER BY at DESC LIMIT 1",
    [new Date(now - 7 * 86_400_000)],
  )
  return rows.map((r) => ({
    words: `Effects set one another off in a circle${r.words ? ` (${r.words})` : ""}: they were stopped after twenty.`,
    says: "Look at the effects",
    href: "/studio/settings/automations",
  }))
}

/** Comments that wait to be shown, and hand-ins that wait for an answer. */
/** Notices that are on and shown to nobody, because their button leads to what isn't live; at most three. */
async function deadNotices(s: Context) {
  const dead = (await noticesWithWhy(s)).filter((n) => n.live && n.hidden === "leads-nowhere")
  return dead.slice(0, 3).map((n) => ({
    words: `Nobody sees the notice “${n.title}”: what its button leads to isn’t live.`,
    says: "Look at it",
    href: `/studio/courses/notices/${n.id}`,
  }))
}

async function unread(db: Db) {
  const handIns = (await waitingHandIns(db)).map((h) => ({
    words: `${Number(h.n) === 1 ? "One hand-in waits" : `${h.n} hand-ins wait`} for your answer: “${h.title}”.`,
    says: "Read and answer",
    href: `/studio/courses/${h.course}/hand-ins`,
  }))
  const found = await waitingComments(db)
  if (!found) return handIns
  return [
    ...handIns,
    {
      words: `${found.n === 1 ? "One comment waits" : `${found.n} comments wait`} for you to look: “${found.title}”.`,
      says: "Read and answer",
      href: `/studio/courses/${found.course}/comments`,
    },
  ]
}

/** Whoever paid or joined, and hasn't got in an hour later, by what they have; at most three lines. */
async function notIn(s: Context) {
  const people = await whoIsNotIn(s)
  const courses = [...new Set(people.map((p) => p.course))].slice(0, 3)
  return courses.map((course) => {
    const found = people.filter((p) => p.course === course)
    const first = found[0]!
    const others = found.length - 1
    const who = `${isolate(first.name || first.email)}${others ? ` and ${others === 1 ? "one other" : `${others} others`}` : ""}`
    return {
      words: `${who} ${others ? "have" : "has"} paid for or joined “${first.title}”, and not come in yet.`,
      says: "See why, and let them in",
      href: `/studio/courses/${first.course}/members`,
    }
  })
}

async function brokenSelling(db: Db) {
  const found = []
  const behind = (await countsOf(db, "plans")).find((c) => c.part === "behind")?.n ?? 0
  if (behind)
    found.push({
      words: `${behind === 1 ? "One buyer's card was" : `${behind} buyers' cards were`} refused when a plan went on. They have been written to, and it is tried again.`,
      says: "See whose",
      href: "/studio/ledger/plans?state=behind",
    })
  const post =
    (
      await db.row<{ n: number }>(
        `SELECT COUNT(DISTINCT l.order_id) AS n FROM offer_gift g JOIN order_line l ON l.offer_id = g.offer_id AND l.posted_at IS NULL
         JOIN orders o ON o.id = l.order_id AND o.state = 'paid' WHERE g.kind IN (?)`,
        [postedKinds],
      )
    )?.n ?? 0
  if (post)
    found.push({
      words: `${post === 1 ? "One order waits" : `${post} orders wait`} to be sent by post.`,
      says: "See which",
      href: "/studio/ledger?post=1",
    })
  const refused = await db.row<{ order_id: number }>(
    "SELECT c.order_id FROM refund r JOIN charge c ON c.id = r.charge_id WHERE r.state = 'refused' AND NOT EXISTS (SELECT 1 FROM refund x WHERE x.charge_id = r.charge_id AND x.id > r.id AND x.state = 'done') LIMIT 1",
  )
  if (refused)
    found.push({
      words: "The card processor refused a refund.",
      says: "Look at the order",
      href: `/studio/ledger/orders/${refused.order_id}`,
    })
  return found
}

/** Work that a newer version put down, after an older one was started again. */
async function newerTimers(db: Db, now: number) {
  const n = await unknownTimers(db, Object.keys(timerWorks), now)
  return n
    ? [
        {
          words: `${n} ${n === 1 ? "thing that was planned waits" : "things that were planned wait"}: a newer version of Swift Heron put ${n === 1 ? "it" : "them"} down. Start that one again.`,
          says: "Open Settings",
          href: "/studio/settings",
        },
      ]
    : []
}

async function brokenMail(db: Db, now: number) {
  const rows = await db.rows<{ state: "unsure" | "rejected"; n: number }>(
    "SELECT state, COUNT(*) AS n FROM mail WHERE state IN ('unsure', 'rejected') AND due_at >= ? GROUP BY state",
    [new Date(now - days7)],
  )
  const waiting = await db.row<{ n: number; trouble: string }>(
    "SELECT COUNT(*) AS n, MAX(trouble) AS trouble FROM mail WHERE state = 'due' AND tries > 0",
  )
  const found = rows.map((r) => {
    const n = r.n
    const words =
      r.state === "unsure"
        ? `${n} ${n === 1 ? "e-mail" : "e-mails"} may or may not have arrived: no word came of it.`
        : `${n} ${n === 1 ? "e-mail was" : "e-mails were"} refused for good by the receiver's server in the last seven days.`
    return { words, says: "See which", href: `/studio/mail/due?show=${r.state}` }
  })
  const rates = await ratesOf(db, now)
  const share = (n: number) => `${((100 * n) / rates.sent).toFixed(1)} %`
  const delivery = { says: "See what came back", href: "/studio/mail/delivery" }
  if (rates.bounced > Math.max(4, rates.sent * 0.02))
    found.push({
      words: `${share(rates.bounced)} of the e-mails of seven days came back: more than 2 % harms what you send next.`,
      ...delivery,
    })
  if (rates.complained > Math.max(0, rates.sent * 0.001))
    found.push({
      words: `${rates.complained} ${rates.complained === 1 ? "reader has" : "readers have"} complained to their mail provider in seven days.`,
      ...delivery,
    })
  const held = await db.row<{ paused: Date | null; n: number }>(
    "SELECT mail_paused_at AS paused, (SELECT COUNT(*) FROM mail WHERE state = 'held') AS n FROM school WHERE id = 1",
  )
  if (held?.paused)
    found.push({
      words: `All sequences and broadcasts are held: ${held.n} ${held.n === 1 ? "e-mail waits" : "e-mails wait"}.`,
      says: "See, and let it go on",
      href: "/studio/mail/quiet-hours",
    })
  const dead = await db.rows<{ id: number; name: string; subject: string }>(
    `SELECT q.id, q.name, m.subject FROM sequence q JOIN sequence_mail m ON m.sequence_id = q.id JOIN reference r ON r.mail_id = m.id AND r.to_step_id IS NOT NULL JOIN step t ON t.id = r.to_step_id AND t.page IS NOT NULL
     WHERE q.state = 'live' AND q.live_version_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = t.id) ORDER BY q.name, m.id LIMIT 5`,
  )
  for (const d of dead)
    found.push({
      words: `The e-mail “${d.subject}” of “${d.name}” leads to a page that isn't live.`,
      says: "Open the sequence",
      href: `/studio/mail/sequences/${d.id}`,
    })
  const late = await db.row<{ n: number }>("SELECT COUNT(*) AS n FROM mail WHERE state = 'due' AND wanted_at < ?", [
    new Date(now - 12 * 3_600_000),
  ])
  const lateOnes = late?.n ?? 0
  if (lateOnes)
    found.push({
      words: `${lateOnes === 1 ? "One e-mail has" : `${lateOnes} e-mails have`} waited for more than twelve hours, because of your hours and limits.`,
      says: "Look at the limits",
      href: "/studio/mail/quiet-hours",
    })
  const n = waiting?.n ?? 0
  if (n)
    found.push({
      words: `${n === 1 ? "One e-mail waits" : `${n} e-mails wait`} for another try. The mail server said: ${(waiting?.trouble ?? "nothing").replace(/\.$/, "")}.`,
      says: "See which",
      href: "/studio/mail/due?show=waiting",
    })
  return found
}

/** Records of a domain that signs its mail, as a name server says now; nothing where it takes longer than a moment. */
async function brokenRecords(s: Context) {
  if (!(await s.db.row("SELECT 1 FROM school WHERE id = 1 AND dkim_made_at IS NOT NULL"))) return []
  const moment = new Promise<null>((done) => setTimeout(() => done(null), 800).unref())
  const delivery = await Promise.race([readDelivery(s), moment])
  const amiss = (delivery?.records ?? []).filter((r) => r.state !== "well" && r.state !== "no-answer")
  return amiss.slice(0, 1).map((r) => ({
    words: `The ${r.kind.toUpperCase()} record of ${delivery?.domain} is ${r.state === "missing" ? "gone" : "not what it should be"}${amiss.length > 1 ? `, and ${amiss.length - 1} more` : ""}: your mail may be taken for somebody else’s.`,
    says: "See what it should say",
    href: "/studio/mail/delivery",
  }))
}

function brokenParts(state: Health) {
  if (state.worker !== "well")
    return [
      { words: "Nothing is being sent: no worker is running.", says: "Look at the health page", href: "/healthz" },
    ]
  if (state.mail !== "well")
    return [
      {
        words: `Mail doesn't go out: ${state.mail.replace(/\.$/, "")}.`,
        says: "Set up mail",
        href: "/studio/settings/mail",
      },
    ]
  if (state.due !== "well")
    return [
      { words: `Something isn't done in time (${state.due}).`, says: "Look at the health page", href: "/healthz" },
    ]
  return []
}

async function nextUp(db: Db): Promise<Today["next"]> {
  const first = await db.row<{ due_at: Date; sequence: string | null }>(
    `SELECT m.due_at, q.name AS sequence FROM mail m LEFT JOIN sequence_mail x ON x.id = m.sequence_mail_id LEFT JOIN sequence q ON q.id = x.sequence_id
     WHERE m.state = 'due' ORDER BY m.due_at LIMIT 1`,
  )
  if (!first) return null
  const at = first.due_at.getTime()
  const same = await db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM mail WHERE state = 'due' AND due_at >= ? AND due_at < ?",
    [first.due_at, new Date(at + 3_600_000)],
  )
  return {
    at,
    mails: same?.n ?? 0,
    sequence: first.sequence,
  }
}
