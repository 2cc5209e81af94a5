// A whole working funnel, written from a course or an offer: what "New funnel" makes before anyone has typed a word. Numbers
// below zero stand for what has none yet.

import type { CourseCard } from "../course/card"
import { escapeHtml } from "../html"
import { richChip } from "../mail/chip"
import type { CatalogueBlock } from "../page/block/catalogue"
import type { Page } from "../page/document"
import { type EffectKind, effectKinds } from "../sequence/effect/list"
import type { SequenceMail } from "../sequence/mail"
import { words } from "../words/en"
import type { Funnel } from "./draft"
import { lessonMail, morning } from "./lesson-mail"
import { capital, clip, spelled } from "./phrase"
import { affiliatesPage } from "./step/affiliates"
import { cataloguePage } from "./step/catalogue"
import { checkoutPage } from "./step/checkout"
import { confirmationPage } from "./step/confirmation"
import { furtherPage } from "./step/further"
import { inboxForAffiliates, inboxForWaiting, inboxPage } from "./step/inbox"
import type { OfferNamed, RecipeCourse, WebinarNamed } from "./step/kind"
import { type Outcome, readSettings, type StepKind } from "./step/list"
import { optinPage } from "./step/optin"
import { registrationPage } from "./step/registration"
import { replayPage } from "./step/replay"
import { salesPage } from "./step/sales"
import { waitingPage } from "./step/waiting"
import { boughtPage, joinedPage } from "./step/welcome"

type Recipe = {
  readonly name: string
  readonly steps: readonly {
    readonly key: string
    readonly kind: StepKind
    readonly name: string
    readonly path: string
    readonly page: Page | null
    readonly settings?: object
  }[]
  readonly streams: readonly { from: string; outcome: Outcome; to: string }[]
  readonly effects: readonly { step: string; outcome: Outcome; kind: EffectKind }[]
  /** Null: nothing is written to anybody. */
  readonly sequence: {
    readonly name: string
    readonly leaveLine: string
    /** `leadsTo`: the step that the button leads to, by its key. */
    readonly mails: readonly (Omit<SequenceMail, "id" | "stepId"> & { readonly leadsTo?: string })[]
  } | null
}

/** The recipe as a funnel: its effects are about its one sequence, or its course. */
function assemble(r: Recipe, course: RecipeCourse | null): Funnel {
  const ids = new Map(r.steps.map((s, i) => [s.key, -(i + 1)]))
  const sequence = -1
  return {
    version: 2,
    id: 0,
    name: r.name,
    againAfter: null,
    steps: r.steps.map((s) => ({
      id: ids.get(s.key)!,
      kind: s.kind,
      name: s.name,
      path: s.path,
      page: s.page,
      settings: readSettings(s.kind, s.settings ?? {}),
    })),
    streams: r.streams.map((s) => ({ from: ids.get(s.from)!, outcome: s.outcome, to: ids.get(s.to)! })),
    effects: r.effects.map((e, i) => {
      const aboutCourse = effectKinds[e.kind].chooses === "course"
      return {
        id: -(i + 1),
        step: ids.get(e.step)!,
        outcome: e.outcome,
        kind: e.kind,
        settings: effectKinds[e.kind].of(aboutCourse ? (course?.id ?? 0) : sequence),
        name: aboutCourse ? (course?.title ?? "") : (r.sequence?.name ?? ""),
      }
    }),
    sequences: r.sequence
      ? [
          {
            id: sequence,
            name: r.sequence.name,
            state: "live",
            leaveLine: r.sequence.leaveLine,
            mails: r.sequence.mails.map(({ leadsTo, ...m }, i) => ({
              ...m,
              id: -(i + 1),
              stepId: leadsTo === undefined ? null : (ids.get(leadsTo) ?? null),
            })),
          },
        ]
      : [],
    courses: course ? [cardOf(course)] : [],
  }
}

function cardOf({ pictureId: _, openings: __, teacherId: ___, ...card }: RecipeCourse): CourseCard {
  return card
}

/**
 * A free mini-course for an e-mail address: opt-in page, "check your inbox", welcome page, the learning area, and one
 * e-mail a day, one for each live lesson (all of them where none is live yet).
 *
 * @param base first part of the addresses, free and valid
 */
export function miniCourseFunnel(course: RecipeCourse, base: string): Funnel {
  const live = course.lessons.filter((l) => l.state === "live")
  const lessons = live.length ? live : course.lessons
  const count = spelled(lessons.length)
  const recipe: Recipe = {
    name: clip(course.title, 120),
    steps: [
      { key: "optin", kind: "optin", name: clip(course.title, 120), path: base, page: optinPage(course) },
      { key: "inbox", kind: "inbox", name: "Check your inbox", path: `${base}/check-your-inbox`, page: inboxPage },
      { key: "welcome", kind: "welcome", name: "Welcome", path: `${base}/welcome`, page: joinedPage(course) },
      {
        key: "learning",
        kind: "learning",
        name: "Learning area",
        path: "",
        page: null,
        settings: { course: course.id },
      },
    ],
    streams: [
      { from: "optin", outcome: "joined", to: "inbox" },
      { from: "inbox", outcome: "confirmed", to: "welcome" },
      { from: "welcome", outcome: "started", to: "learning" },
    ],
    effects: [
      { step: "inbox", outcome: "confirmed", kind: "open-course" },
      { step: "inbox", outcome: "confirmed", kind: "begin-sequence" },
    ],
    sequence: {
      name: `${capital(count)} ${lessons.length === 1 ? "morning" : "mornings"}`,
      leaveLine: words.mail.leaveLine,
      mails: lessons.map((lesson, i) => lessonMail(course, lesson, i, lessons.length)),
    },
  }
  return assemble(recipe, course)
}

/**
 * What a school has, beside each other, with a waiting list for what isn't open: a catalogue, "check your inbox", and the page for
 * whoever waits.
 */
export function catalogueFunnel(school: string, items: CatalogueBlock["items"], base: string): Funnel {
  return assemble(
    {
      name: "Catalogue",
      steps: [
        { key: "all", kind: "catalogue", name: "Catalogue", path: base, page: cataloguePage(school, items) },
        {
          key: "inbox",
          kind: "inbox",
          name: "Check your inbox",
          path: `${base}/check-your-inbox`,
          page: inboxForWaiting,
        },
        { key: "waiting", kind: "waiting", name: "On the list", path: `${base}/on-the-list`, page: waitingPage },
      ],
      streams: [
        { from: "all", outcome: "waits", to: "inbox" },
        { from: "inbox", outcome: "confirmed", to: "waiting" },
      ],
      effects: [],
      sequence: null,
    },
    null,
  )
}

/**
 * Takes on affiliates for an offer: a page that says what it is about and asks, "check your inbox", and their own page.
 *
 * @param about what the programme says of itself; empty: what the offer promises
 */
export function affiliatesFunnel(offer: OfferNamed, about: string, base: string): Funnel {
  return assemble(
    {
      name: clip(`${offer.publicName}: affiliates`, 120),
      steps: [
        {
          key: "ask",
          kind: "affiliates",
          name: "Recommend it",
          path: base,
          page: affiliatesPage(offer, about),
          settings: { offer: offer.id },
        },
        {
          key: "inbox",
          kind: "inbox",
          name: "Check your inbox",
          path: `${base}/check-your-inbox`,
          page: inboxForAffiliates,
        },
        { key: "portal", kind: "portal", name: "Affiliate page", path: "", page: null },
      ],
      streams: [
        { from: "ask", outcome: "applied", to: "inbox" },
        { from: "inbox", outcome: "confirmed", to: "portal" },
      ],
      effects: [],
      sequence: null,
    },
    null,
  )
}

export type Selling = {
  /** Null where what is sold gives no course, only files or something by post. */
  readonly course: RecipeCourse | null
  readonly offer: OfferNamed
  /** A further offer, and its second chance for whoever declines it. */
  readonly further: OfferNamed | null
  readonly second: OfferNamed | null
}

/**
 * Sells a course: sales page, checkout, one further offer and its second chance, welcome page, the learning area, and a
 * short sequence for those who began to pay and stopped.
 */
export function courseSaleFunnel(s: Selling, base: string): Funnel {
  const { course, offer } = s
  const about = offer.publicName
  const teacher = course?.teacher ? `<p>${escapeHtml(course.teacher)}</p>` : ""
  const second = s.further ? s.second : null
  const recipe: Recipe = {
    name: clip(`${about}: sale`, 120),
    steps: [
      { key: "sales", kind: "sales", name: clip(about, 120), path: base, page: salesPage(course, offer) },
      {
        key: "checkout",
        kind: "checkout",
        name: "Checkout",
        path: `${base}/checkout`,
        page: checkoutPage(offer, course),
        settings: { offer: offer.id },
      },
      ...(s.further
        ? [
            {
              key: "further",
              kind: "further" as const,
              name: clip(s.further.publicName, 120),
              path: `${base}/one-more-thing`,
              page: furtherPage(s.further, false),
              settings: { offer: s.further.id },
            },
          ]
        : []),
      ...(second
        ? [
            {
              key: "second",
              kind: "further" as const,
              name: clip(second.publicName, 120),
              path: `${base}/or-this`,
              page: furtherPage(second, true),
              settings: { offer: second.id },
            },
          ]
        : []),
      { key: "welcome", kind: "welcome", name: "Welcome", path: `${base}/welcome`, page: boughtPage(course, offer) },
      {
        key: "learning",
        kind: "learning",
        name: "Learning area",
        path: "",
        page: null,
        settings: { course: course?.id ?? null },
      },
    ],
    streams: [
      { from: "sales", outcome: "clicked", to: "checkout" },
      { from: "checkout", outcome: "bought", to: s.further ? "further" : "welcome" },
      ...(s.further
        ? [
            { from: "further", outcome: "accepted" as const, to: "welcome" },
            { from: "further", outcome: "declined" as const, to: second ? "second" : "welcome" },
          ]
        : []),
      ...(second
        ? [
            { from: "second", outcome: "accepted" as const, to: "welcome" },
            { from: "second", outcome: "declined" as const, to: "welcome" },
          ]
        : []),
      { from: "welcome", outcome: "started", to: "learning" },
    ],
    effects: [
      { step: "checkout", outcome: "stopped", kind: "begin-sequence" },
      { step: "checkout", outcome: "bought", kind: "end-sequence" },
    ],
    sequence: {
      name: "Began to pay and stopped",
      leaveLine: words.mail.leaveLine,
      mails: [
        {
          afterDays: 0,
          atMinute: null,
          preview: "",
          plain: "",
          subject: clip(`Did something get in the way of “${about}”?`, 200),
          body: `<p>Hello ${richChip("first-name", "friend")},</p><p>you were about to get “${escapeHtml(about)}”, and then stopped. Nothing was charged. If something didn't work, answer this e-mail: a person reads it.</p>${teacher}`,
          button: "Go back to it",
          lessonId: null,
          leadsTo: "checkout",
        },
        {
          afterDays: 2,
          atMinute: morning,
          preview: "",
          plain: "",
          subject: clip(`What is inside “${about}”`, 200),
          body: `<p>Good morning ${richChip("first-name", "friend")},</p>${course ? `<p>in case you are still thinking about it, this is what is inside:</p><ul>${course.lessons.map((l) => `<li>${escapeHtml(l.title)}</li>`).join("")}</ul>` : `<p>in case you are still thinking about it: ${escapeHtml(offer.promise || "it is still there for you.")}</p>`}<p>This is the last we write about it.</p>${teacher}`,
          button: "Have another look",
          lessonId: null,
          leadsTo: "sales",
        },
      ],
    },
  }
  return assemble(recipe, course)
}

/**
 * Fills a webinar, and sells what it leads to: registration page, confirmation page, replay, and the sale. Whoever was there comes to the
 * sale, whoever left early or missed it to the replay, and from there to the checkout; where there is no replay, to the sale, too.
 *
 * @param id the number of the webinar
 * @param base first part of the addresses, free and valid
 */
export function webinarFunnel(webinar: WebinarNamed, id: number, selling: Selling, base: string): Funnel {
  const sale = courseSaleFunnel(selling, `${base}/offer`)
  const [registration, confirmation, replay] = [1, 2, 3].map((n) => -sale.steps.length - n) as [number, number, number]
  const step = (key: StepKind) => sale.steps.find((s) => s.kind === key)!.id
  const page = (id: number, kind: StepKind, name: string, path: string, page: Page) => ({
    id,
    kind,
    name: clip(name, 120),
    path,
    page,
    settings: readSettings(kind, settings),
  })
  const settings = { webinar: id }
  const again = webinar.replayDays !== null
  return {
    ...sale,
    name: clip(webinar.title, 120),
    steps: [
      page(registration, "registration", webinar.title, base, registrationPage(webinar)),
      page(confirmation, "confirmation", "Your seat", `${base}/your-seat`, confirmationPage(webinar)),
      ...(again ? [page(replay, "replay", "Replay", `${base}/replay`, replayPage(webinar))] : []),
      ...sale.steps,
    ],
    streams: [
      { from: registration, outcome: "registered", to: confirmation },
      { from: confirmation, outcome: "attended", to: step("sales") },
      { from: confirmation, outcome: "left-early", to: again ? replay : step("sales") },
      { from: confirmation, outcome: "missed", to: again ? replay : step("sales") },
      { from: confirmation, outcome: "clicked", to: step("checkout") },
      ...(again
        ? [
            { from: replay, outcome: "clicked" as const, to: step("checkout") },
            { from: replay, outcome: "too-late" as const, to: step("sales") },
          ]
        : []),
      ...sale.streams,
    ],
  }
}
