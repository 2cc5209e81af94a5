// A page that sells an offer: the same action at the top and at the end, what is inside, what it costs.
import * as v from "valibot"
import { escapeHtml } from "../../html"
import type { Block, Page } from "../../page/document"
import { placeholders } from "../../page/placeholder"
import { words } from "../../words/en"
import { capital, clip, spelled } from "../phrase"
import type { OfferNamed, RecipeCourse, StepModule } from "./kind"

export const sales: StepModule<"clicked", object> = {
  label: "sales page",
  outcomes: { clicked: { verb: "goes to the checkout", done: "clicked on", leads: true, byLooking: true } },
  entry: true,
  hasPage: true,
  settings: v.object({}),
  firstPage: ({ course, offer }) => (offer ? salesPage(course, offer) : { version: 1, title: "", blocks: [] }),
  refs: () => [],
  insert: { offer: true, afterSale: false, nameOf: ({ offer }) => offer?.publicName ?? "Sales page" },
  followedBy: "checkout",
  gate: 2,
}

export function salesPage(course: RecipeCourse | null, offer: OfferNamed): Page {
  const name = course?.title ?? offer.publicName
  const leads = { to: "outcome" as const, outcome: "clicked" as const }
  const says = clip(`Get ${offer.publicName}`, 300)
  const buy = (id: string, note = "") => ({ id, kind: "button" as const, says, leads, ...(note ? { note } : {}) })
  const picture = course?.pictureId ?? offer.pictureId
  const lessons = course?.lessons.filter((l) => l.state === "live") ?? []
  return {
    version: 1,
    title: clip(name, 120),
    blocks: [
      {
        id: "promise",
        kind: "headline",
        text: clip(course?.promise || offer.promise || name, 300),
        ...(course?.teacher ? { above: clip(`A course with ${course.teacher}`, 300) } : {}),
      },
      {
        id: "intro",
        kind: "text",
        html: course
          ? `<p><strong>${escapeHtml(course.title)}</strong>: ${spelled(course.lessons.length)} ${course.lessons.length === 1 ? "lesson" : "lessons"}, open to you for as long as you have it.</p>`
          : `<p>${escapeHtml(offer.promise || placeholders.offer)}</p>`,
      },
      buy("buy", lessons.some((l) => l.free) ? "a lesson is free to watch" : ""),
      ...(picture ? [{ id: "picture", kind: "picture" as const, media: picture, alt: name }] : []),
      ...(course
        ? [
            band("ableband", "tinted", {
              id: "able",
              kind: "outcomes",
              course: course.id,
              title: "What you will be able to do",
            }),
            { id: "insidehead", kind: "headline" as const, text: "What is inside" },
            { id: "lessons", kind: "lessons" as const, course: course.id },
            band("teacherband", "dark", { id: "teacher", kind: "teacher", teacher: course.teacherId }),
            band("wordsband", "tinted", {
              id: "words",
              kind: "quotes",
              course: course.id,
              title: "From those who did it",
              most: 3,
            }),
          ]
        : []),
      { id: "costhead", kind: "headline", text: offer.terms.length > 1 ? "Ways to pay" : "What it costs" },
      { id: "cost", kind: "price", offer: offer.id },
      { id: "guarantee", kind: "guarantee", offer: offer.id },
      buy("again"),
      band("askedband", "tinted", {
        id: "asked",
        kind: "questions",
        title: "Asked before",
        items: questionsFor(course, offer),
      }),
      { id: "reach", kind: "reach", says, leads, offer: offer.id },
    ],
  }
}

const band = (id: string, tone: "tinted" | "dark", block: Block) => ({
  id,
  kind: "section" as const,
  tone,
  blocks: [block],
})

/** What is asked of any course, answered from its facts; what only the school knows is asked of the school. */
function questionsFor(course: RecipeCourse | null, offer: OfferNamed): { asks: string; says: string }[] {
  const lessons = course?.lessons.filter((l) => l.state === "live") ?? []
  const minutes = lessons.reduce((sum, l) => sum + l.minutes, 0)
  return [
    { asks: "Whom is it for?", says: "" },
    { asks: "Whom is it not for?", says: "" },
    ...(minutes > 0
      ? [
          {
            asks: "How much time does it take?",
            says: `${capital(spelled(lessons.length))} ${lessons.length === 1 ? "lesson" : "lessons"}, ${minutes} minutes in all. You watch them when it suits you.`,
          },
        ]
      : []),
    ...(course
      ? [
          {
            asks: "On which devices?",
            says: "On any with a browser: phone, tablet, computer. You sign in with your e-mail address, without a password.",
          },
        ]
      : []),
    { asks: "What if it isn’t for me?", says: offer.refundDays ? words.offer.guarantee(offer.refundDays) : "" },
  ]
}
