// A whole working funnel, written from a course: what "New funnel" makes before anyone has typed a word.
import { richChip } from "../mail/chip"
import type { Offer } from "../offer/offer"
import type { Page } from "../page/document"
import { escapeHtml } from "../page/html"
import { placeholders } from "../page/placeholder"
import { words } from "../words/en"
import type { CourseCard, SequenceMail } from "./draft"
import type { EffectKind, Outcome, StepKind } from "./kinds"

export type Recipe = {
  readonly name: string
  readonly steps: readonly {
    readonly key: string
    readonly kind: StepKind
    readonly name: string
    readonly path: string
    readonly page: Page | null
    /** What a checkout or a further offer sells. */
    readonly offer?: number
  }[]
  readonly streams: readonly { from: string; outcome: Outcome; to: string }[]
  readonly effects: readonly {
    step: string
    outcome: Outcome
    kind: Extract<EffectKind, "open-course" | "begin-sequence" | "end-sequence">
  }[]
  readonly sequence: {
    readonly name: string
    readonly leaveLine: string
    /** `leadsTo`: the step that the button leads to, by its key. */
    readonly mails: readonly (Omit<SequenceMail, "id" | "stepId"> & { readonly leadsTo?: string })[]
  }
}

export type RecipeCourse = CourseCard & {
  readonly pictureId: number | null
  /** The opening words of each lesson, plain text, by lesson id. */
  readonly openings: ReadonlyMap<number, string>
}

/** Half past seven: "once a day, in the morning, where the reader is" (rule of the trade). */
const morning = 7 * 60 + 30

/**
 * A free mini-course for an e-mail address: opt-in page, "check your inbox", welcome page, the learning area, and one
 * e-mail a day, one for each live lesson (all of them where none is live yet).
 *
 * @param base first part of the addresses, free and valid
 */
export function miniCourseRecipe(course: RecipeCourse, base: string): Recipe {
  const live = course.lessons.filter((l) => l.state === "live")
  const lessons = live.length ? live : course.lessons
  const count = spelled(lessons.length)
  const teacher = course.teacher ? ` with ${escapeHtml(course.teacher)}` : ""
  const optin: Page = {
    version: 1,
    title: clip(course.title, 120),
    blocks: [
      { id: "promise", kind: "headline", text: clip(course.promise || course.title, 300) },
      {
        id: "intro",
        kind: "text",
        html: `<p><strong>${escapeHtml(course.title)}</strong> is a free mini-course: ${count} short ${lessons.length === 1 ? "lesson" : "lessons"}${teacher}, one each morning.</p>`,
      },
      ...(course.pictureId
        ? [{ id: "picture", kind: "picture" as const, media: course.pictureId, alt: course.title }]
        : []),
      {
        id: "join",
        kind: "form",
        says: "Send me the first lesson",
        askName: true,
        consent: `Send me the lessons of “${course.title}” by e-mail, one a day, and afterwards now and then a letter. I can leave at any time with one click.`,
        confirm: true,
        foreign: false,
      },
      {
        id: "inside",
        kind: "section",
        tone: "tinted",
        blocks: [
          { id: "insidehead", kind: "headline", text: "What is inside" },
          { id: "lessons", kind: "lessons", course: course.id },
        ],
      },
      { id: "again", kind: "button", says: "Send me the first lesson", leads: { to: "form" } },
    ],
  }
  const inbox: Page = {
    version: 1,
    title: "Check your inbox",
    blocks: [
      { id: "head", kind: "headline", text: "One more step: look into your inbox" },
      {
        id: "text",
        kind: "text",
        html: "<p>A message from us is on its way to you. Press the link in it, and the first lesson is open.</p>",
      },
      {
        id: "help",
        kind: "list",
        items: [
          "It can take a minute.",
          "Not there? Look in the spam folder, and move it to your inbox.",
          "A mistake in the address? Go back and send the form again.",
        ],
      },
    ],
  }
  const welcome: Page = {
    version: 1,
    title: clip(`Welcome to ${course.title}`, 120),
    blocks: [
      { id: "head", kind: "headline", text: "It worked. You are in" },
      {
        id: "text",
        kind: "text",
        html: `<p>“${escapeHtml(course.title)}” is open for you, on this device right now, and on any other with a sign-in link that we mail you.</p>`,
      },
      { id: "start", kind: "button", says: "Open the first lesson", leads: { to: "outcome", outcome: "started" } },
      { id: "nexthead", kind: "headline", text: "What comes next" },
      {
        id: "next",
        kind: "list",
        items: [
          "The first lesson is in your inbox, too.",
          "Then one lesson each morning.",
          "Answer any of the e-mails: a person reads it.",
        ],
      },
    ],
  }
  return {
    name: clip(course.title, 120),
    steps: [
      { key: "optin", kind: "optin", name: clip(course.title, 120), path: base, page: optin },
      { key: "inbox", kind: "inbox", name: "Check your inbox", path: `${base}/check-your-inbox`, page: inbox },
      { key: "welcome", kind: "welcome", name: "Welcome", path: `${base}/welcome`, page: welcome },
      { key: "learning", kind: "learning", name: "Learning area", path: "", page: null },
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
}

/** The mail that brings lesson `i` (from 0) of so many. */
export function lessonMail(
  course: RecipeCourse,
  lesson: CourseCard["lessons"][number],
  i: number,
  of: number,
): Omit<SequenceMail, "id" | "stepId"> {
  const opening = course.openings.get(lesson.id)
  return {
    afterDays: i === 0 ? 0 : 1,
    atMinute: i === 0 ? null : morning,
    subject: numbered(lesson.title, i, of),
    body:
      `<p>${i === 0 ? "Hello" : "Good morning"} ${richChip("first-name", "friend")},</p>` +
      `<p>${i === 0 ? `welcome to “${escapeHtml(course.title)}”. Here is the first lesson: ` : "today’s lesson: "}<strong>${escapeHtml(lesson.title)}</strong>.</p>` +
      (opening ? `<p>${escapeHtml(opening)}</p>` : "") +
      (course.teacher ? `<p>${escapeHtml(course.teacher)}</p>` : ""),
    button: lesson.minutes ? `Open the lesson (${lesson.minutes} min)` : "Open the lesson",
    lessonId: lesson.id,
  }
}

const counted = /^(\d{1,3}) of (\d{1,3}): /

/** A subject that counts the lessons: "2 of 5: Salt". One that counted before counts anew. */
export function numbered(subject: string, i: number, of: number): string {
  const bare = subject.replace(counted, "")
  return of > 1 ? `${i + 1} of ${of}: ${bare}` : bare
}

/** Whether a subject counts, and counts wrong. */
export function countsWrong(subject: string, i: number, of: number): boolean {
  const found = counted.exec(subject)
  return found !== null && (Number(found[1]) !== i + 1 || Number(found[2]) !== of)
}

export type Selling = {
  /** Null where what is sold gives no course, only files or something by post. */
  readonly course: RecipeCourse | null
  readonly offer: Pick<Offer, "id" | "publicName" | "promise">
  /** A further offer, and its second chance for whoever declines it. */
  readonly further: Pick<Offer, "id" | "publicName" | "promise"> | null
  readonly second: Pick<Offer, "id" | "publicName" | "promise"> | null
}

type Named = Pick<Offer, "id" | "publicName">

/** A page that sells an offer: the same action at the top and at the end, what is inside, what it costs. */
export function salesPage(course: RecipeCourse | null, offer: Named & Pick<Offer, "promise">): Page {
  const name = course?.title ?? offer.publicName
  const buy = (id: string) => ({
    id,
    kind: "button" as const,
    says: clip(`Get ${offer.publicName}`, 300),
    leads: { to: "outcome" as const, outcome: "clicked" as const },
  })
  return {
    version: 1,
    title: clip(name, 120),
    blocks: [
      { id: "promise", kind: "headline", text: clip(course?.promise || offer.promise || name, 300) },
      {
        id: "intro",
        kind: "text",
        html: course
          ? `<p><strong>${escapeHtml(course.title)}</strong>${course.teacher ? ` with ${escapeHtml(course.teacher)}` : ""}: ${spelled(course.lessons.length)} ${course.lessons.length === 1 ? "lesson" : "lessons"}, open to you for as long as you have it.</p>`
          : `<p>${escapeHtml(offer.promise || placeholders.offer)}</p>`,
      },
      ...(course?.pictureId
        ? [{ id: "picture", kind: "picture" as const, media: course.pictureId, alt: course.title }]
        : []),
      buy("buy"),
      ...(course
        ? [
            {
              id: "inside",
              kind: "section" as const,
              tone: "tinted" as const,
              blocks: [
                { id: "insidehead", kind: "headline" as const, text: "What is inside" },
                { id: "lessons", kind: "lessons" as const, course: course.id },
              ],
            },
          ]
        : []),
      { id: "costhead", kind: "headline", text: "What it costs" },
      { id: "cost", kind: "price", offer: offer.id },
      buy("again"),
    ],
  }
}

/** A checkout with as few fields as can be. `about`: what they may be written to about, should they stop. */
export function checkoutPage(offer: Named, about: string): Page {
  return {
    version: 1,
    title: clip(`Get ${offer.publicName}`, 120),
    blocks: [
      { id: "head", kind: "headline", text: clip(offer.publicName, 300) },
      {
        id: "pay",
        kind: "checkout",
        says: "Get it now",
        askName: true,
        askCoupon: true,
        bumps: [],
        consent: `If I stop here, write to me about “${clip(about, 160)}” by e-mail, at most twice. I can leave at any time with one click.`,
      },
    ],
  }
}

/** One more offer after the sale; `second`: the smaller one for whoever declined. */
export function furtherPage(offer: Named & Pick<Offer, "promise">, second: boolean): Page {
  return {
    version: 1,
    title: clip(offer.publicName, 120),
    blocks: [
      {
        id: "head",
        kind: "headline",
        text: clip(second ? `Or something smaller: ${offer.publicName}` : `Before you begin: ${offer.publicName}`, 300),
      },
      {
        id: "text",
        kind: "text",
        html: `<p>${escapeHtml(offer.promise || placeholders.furtherOffer)}</p>`,
      },
      {
        id: "choice",
        kind: "decision",
        accept: "Yes, add it",
        decline: second ? "No, thank you. Take me to what I bought" : "No, thank you. Go on without it",
      },
    ],
  }
}

/**
 * Sells a course: sales page, checkout, one further offer and its second chance, welcome page, the learning area, and a
 * short sequence for those who began to pay and stopped.
 */
export function sellCourseRecipe(s: Selling, base: string): Recipe {
  const { course, offer } = s
  const about = course?.title ?? offer.publicName
  const teacher = course?.teacher ? `<p>${escapeHtml(course.teacher)}</p>` : ""
  const welcome: Page = {
    version: 1,
    title: clip(course ? `Welcome to ${course.title}` : offer.publicName, 120),
    blocks: [
      { id: "head", kind: "headline", text: "It worked. You are in" },
      { id: "proof", kind: "proof" },
      { id: "firsthead", kind: "headline", text: "What to do first" },
      {
        id: "first",
        kind: "list",
        items: [
          course
            ? "Open the first lesson: it takes a few minutes."
            : "Open what you bought: it is in the learning area.",
          "Keep the receipt that is on its way to you. The sign-in link for any other device is in it.",
          "Answer the e-mail if anything is amiss: a person reads it.",
        ],
      },
      {
        id: "start",
        kind: "button",
        says: course ? "Open the first lesson" : "Open what I bought",
        leads: { to: "outcome", outcome: "started" },
      },
    ],
  }
  const second = s.further ? s.second : null
  return {
    name: clip(`${about}: sale`, 120),
    steps: [
      { key: "sales", kind: "sales", name: clip(about, 120), path: base, page: salesPage(course, offer) },
      {
        key: "checkout",
        kind: "checkout",
        name: "Checkout",
        path: `${base}/checkout`,
        page: checkoutPage(offer, about),
        offer: offer.id,
      },
      ...(s.further
        ? [
            {
              key: "further",
              kind: "further" as const,
              name: clip(s.further.publicName, 120),
              path: `${base}/one-more-thing`,
              page: furtherPage(s.further, false),
              offer: s.further.id,
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
              offer: second.id,
            },
          ]
        : []),
      { key: "welcome", kind: "welcome", name: "Welcome", path: `${base}/welcome`, page: welcome },
      { key: "learning", kind: "learning", name: "Learning area", path: "", page: null },
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
          subject: clip(`Did something get in the way of “${about}”?`, 200),
          body: `<p>Hello ${richChip("first-name", "friend")},</p><p>you were about to get “${escapeHtml(about)}”, and then stopped. Nothing was charged. If something didn't work, answer this e-mail: a person reads it.</p>${teacher}`,
          button: "Go back to it",
          lessonId: null,
          leadsTo: "checkout",
        },
        {
          afterDays: 2,
          atMinute: morning,
          subject: clip(`What is inside “${about}”`, 200),
          body: `<p>Good morning ${richChip("first-name", "friend")},</p>${course ? `<p>in case you are still thinking about it, this is what is inside:</p><ul>${course.lessons.map((l) => `<li>${escapeHtml(l.title)}</li>`).join("")}</ul>` : `<p>in case you are still thinking about it: ${escapeHtml(offer.promise || "it is still there for you.")}</p>`}<p>This is the last we write about it.</p>${teacher}`,
          button: "Have another look",
          lessonId: null,
          leadsTo: "sales",
        },
      ],
    },
  }
}

export const numberWords = [
  "no",
  "one",
  "two",
  "three",
  "four",
  "five",
  "six",
  "seven",
  "eight",
  "nine",
  "ten",
  "eleven",
  "twelve",
]

function spelled(n: number): string {
  return numberWords[n] ?? String(n)
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** What a field takes, with an ellipsis where more was said; cut between characters, never inside one. */
function clip(text: string, most: number): string {
  return text.length <= most
    ? text
    : `${text
        .slice(0, most - 1)
        .replace(/[\uD800-\uDBFF]$/, "")
        .trimEnd()}…`
}
