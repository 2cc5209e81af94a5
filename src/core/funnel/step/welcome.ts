// "You are in": what was joined or bought is open, and what comes next.
import * as v from "valibot"
import { escapeHtml } from "../../html"
import type { Page } from "../../page/document"
import { clip } from "../phrase"
import type { OfferNamed, RecipeCourse, StepModule } from "./kind"

export const welcome: StepModule<"started", object> = {
  label: "welcome page",
  outcomes: { started: { verb: "opens the first lesson", done: "started", leads: true } },
  entry: false,
  hasPage: true,
  blocks: ["proof"],
  settings: v.object({}),
  firstPage: ({ course, offer }) =>
    offer ? boughtPage(course, offer) : course ? joinedPage(course) : { version: 1, title: "", blocks: [] },
  refs: () => [],
  welcomes: true,
}

/** For whoever joined a mini-course. */
export function joinedPage(course: RecipeCourse): Page {
  return {
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
}

/** For whoever bought. */
export function boughtPage(course: RecipeCourse | null, offer: OfferNamed): Page {
  return {
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
}
