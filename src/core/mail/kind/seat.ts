import type { MailFacts } from "./kind"

/** A seat at a webinar: when, for the calendar, and the way into the room. */
export const seat: MailFacts = { label: "Seat at a webinar", asked: true, about: "person" }
