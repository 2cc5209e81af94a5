// A page that sells an offer: the same action at the top and at the end, what is inside, what it costs.
import * as v from "valibot"
import { escapeHtml } from "../../html"
import type { Page } from "../../page/document"
import { placeholders } from "../../page/placeholder"
import { clip, spelled } from "../phrase"
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
