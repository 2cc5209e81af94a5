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
      { id: "head", kind: "headline", text: "It worked. You are in", above: clip(course.title, 300) },
      {
        id: "text",
        kind: "text",
        html: `<p>“${escapeHtml(course.title)}” is open for you, on this device right now, and on any other with a sign-in link that we mail you.</p>`,
      },
      { id: "start", kind: "button", says: "Open the first lesson", leads: { to: "outcome", outcome: "started" } },
      ...pictureOf(course.pictureId, course.title),
      { id: "nexthead", kind: "headline", text: "What comes next" },
      {
        id: "next",
        kind: "numbered",
        items: [
          { title: "Now", says: "The first lesson is open. It is in your inbox, too." },
          { title: "Each morning", says: "One more lesson, by e-mail and in your learning area." },
          { title: "Whenever you like", says: "Answer any of the e-mails: a person reads it." },
        ],
      },
    ],
  }
}

/** For whoever bought: that it worked, how to get in, what to do first, and the way there. */
export function boughtPage(course: RecipeCourse | null, offer: OfferNamed): Page {
  const open = course ? "Open the first lesson" : "Open what I bought"
  return {
    version: 1,
    title: clip(course ? `Welcome to ${course.title}` : offer.publicName, 120),
    blocks: [
      { id: "head", kind: "headline", text: "It worked. You are in", above: "Thank you" },
      ...pictureOf(course?.pictureId ?? offer.pictureId, course?.title ?? offer.publicName),
      { id: "proof", kind: "proof" },
      { id: "inhead", kind: "headline", text: "How to get in" },
      {
        id: "in",
        kind: "numbered",
        items: [
          { title: "On this device", says: "It is open now: press the button below." },
          {
            title: "On any other",
            says: "Sign in with your e-mail address. A link comes to your mailbox; there is no password to remember.",
          },
          { title: "Later", says: "Keep the receipt that is on its way to you: a sign-in link is in it." },
        ],
      },
      { id: "firsthead", kind: "headline", text: "What to do first" },
      {
        id: "first",
        kind: "list",
        items: [
          course
            ? "Open the first lesson while you are here: it takes a few minutes."
            : "Open what you bought: it is in the learning area.",
          "Look for the receipt in your mailbox, so that you know our e-mails arrive.",
          "Answer it if anything is amiss: a person reads it.",
        ],
      },
      { id: "start", kind: "button", says: open, leads: { to: "outcome", outcome: "started" } },
    ],
  }
}

const pictureOf = (media: number | null | undefined, alt: string) =>
  media ? [{ id: "picture", kind: "picture" as const, media, alt }] : []
