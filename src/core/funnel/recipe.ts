// A whole working funnel, written from a course: what "New funnel" makes before anyone has typed a word.
import { richChip } from "../mail/chip"
import type { Page } from "../page/document"
import { escapeHtml } from "../page/html"
import { words } from "../words/en"
import type { CourseCard, SequenceMail } from "./draft"
import type { EffectKind, Outcome, StepKind } from "./kinds"

export type Recipe = {
  readonly name: string
  readonly steps: readonly { key: string; kind: StepKind; name: string; path: string; page: Page | null }[]
  readonly streams: readonly { from: string; outcome: Outcome; to: string }[]
  readonly effects: readonly {
    step: string
    outcome: Outcome
    kind: Extract<EffectKind, "open-course" | "begin-sequence">
  }[]
  readonly sequence: {
    readonly name: string
    readonly leaveLine: string
    readonly mails: readonly Omit<SequenceMail, "id">[]
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
  const teacher = course.teacher || "your teacher"
  const optin: Page = {
    version: 1,
    title: clip(course.title, 120),
    blocks: [
      { id: "promise", kind: "headline", text: clip(course.promise || course.title, 300) },
      {
        id: "intro",
        kind: "text",
        html: `<p><strong>${escapeHtml(course.title)}</strong> is a free mini-course: ${count} short ${lessons.length === 1 ? "lesson" : "lessons"} with ${escapeHtml(teacher)}, one each morning.</p>`,
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
          "Not there? Look among the unwanted messages, and move it to your inbox.",
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
        html: `<p>“${escapeHtml(course.title)}” is open for you, on this device right now, and on any other with a way in that we mail you.</p>`,
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
      mails: lessons.map((lesson, i) => ({
        afterDays: i === 0 ? 0 : 1,
        atMinute: i === 0 ? null : morning,
        subject: lessons.length > 1 ? `${i + 1} of ${lessons.length}: ${lesson.title}` : lesson.title,
        body:
          `<p>${i === 0 ? "Hello" : "Good morning"} ${richChip("first-name", "friend")},</p>` +
          `<p>${i === 0 ? `welcome to “${escapeHtml(course.title)}”. Here is the first lesson: ` : "today’s lesson: "}<strong>${escapeHtml(lesson.title)}</strong>.</p>` +
          (course.openings.get(lesson.id) ? `<p>${escapeHtml(course.openings.get(lesson.id)!)}</p>` : "") +
          (course.teacher ? `<p>${escapeHtml(course.teacher)}</p>` : ""),
        button: lesson.minutes ? `Open the lesson (${lesson.minutes} min)` : "Open the lesson",
        lessonId: lesson.id,
      })),
    },
  }
}

function spelled(n: number): string {
  return (
    ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"][n] ??
    String(n)
  )
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
