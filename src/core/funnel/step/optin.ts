// A page with a form: an address for what it promises.
import * as v from "valibot"
import { found } from "../../finding"
import { escapeHtml } from "../../html"
import { formOf } from "../../page/block/form"
import type { Page } from "../../page/document"
import { streamTo } from "../draft"
import { clip, spelled } from "../phrase"
import type { RecipeCourse, StepModule } from "./kind"

export const optin: StepModule<"joined", object> = {
  label: "opt-in page",
  outcomes: { joined: { verb: "joins", done: "joined", leads: true } },
  entry: true,
  hasPage: true,
  blocks: ["form"],
  settings: v.object({}),
  firstPage: ({ course }) => (course ? optinPage(course) : { version: 1, title: "", blocks: [] }),
  refs: () => [],
  free: true,
  gate: 1,
  needsMail: "nobody could ever confirm, and no e-mail would come",
  check({ step, funnel, kinds }) {
    if (!step.page || !formOf(step.page))
      return [found("page-without-form", step, { step: step.name, lacks: "form" }, { go: "page", step: step.id })]
    const to = streamTo(funnel, step.id, "joined")
    const facts = to && kinds[to.kind]
    const sets = funnel.effects.some((e) => e.step === step.id || e.step === to?.id)
    if (sets || (facts && Object.keys(facts.outcomes).length > 0 && !facts.waitsForMailbox)) return []
    return [found("form-starts-nothing", step, { step: step.name }, { go: "wiring", step: to?.id ?? step.id })]
  },
}

export function optinPage(course: RecipeCourse): Page {
  const live = course.lessons.filter((l) => l.state === "live")
  const lessons = live.length ? live : course.lessons
  const teacher = course.teacher ? ` with ${escapeHtml(course.teacher)}` : ""
  return {
    version: 1,
    title: clip(course.title, 120),
    blocks: [
      { id: "promise", kind: "headline", text: clip(course.promise || course.title, 300) },
      {
        id: "intro",
        kind: "text",
        html: `<p><strong>${escapeHtml(course.title)}</strong> is a free mini-course: ${spelled(lessons.length)} short ${lessons.length === 1 ? "lesson" : "lessons"}${teacher}, one each morning.</p>`,
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
      { id: "able", kind: "outcomes", course: course.id, title: "What you will be able to do" },
      {
        id: "teacherband",
        kind: "section",
        tone: "dark",
        blocks: [{ id: "teacher", kind: "teacher", teacher: course.teacherId }],
      },
      {
        id: "wordsband",
        kind: "section",
        tone: "tinted",
        blocks: [{ id: "words", kind: "quotes", course: course.id, title: "From those who did it", most: 3 }],
      },
      { id: "again", kind: "button", says: "Send me the first lesson", leads: { to: "form" } },
    ],
  }
}
