// What preflight finds: what a visitor would suffer, where, and what mends it.
import type { Availability, Offer } from "../offer/offer"
import type { CourseCard, Step } from "./draft"
import type { Outcome } from "./step/list"

export type Rule =
  | "outcome-leads-nowhere"
  | "circle-without-way-out"
  | "form-starts-nothing"
  | "page-without-form"
  | "course-not-ready"
  | "sequence-not-ready"
  | "button-without-target"
  | "sequence-cannot-be-left"
  | "sequence-without-sender"
  | "address-used-twice"
  | "address-cannot-stand"
  | "page-without-title"
  | "picture-without-words"
  | "offer-missing"
  | "price-of-another"
  | "offer-gives-nothing"
  | "offer-not-to-be-had"
  | "paid-form-charges-nothing"
  | "free-form-gives-paid"
  | "no-processor"
  | "no-statement-text"
  | "currencies-mixed"
  | "offer-twice-on-a-path"
  | "already-in-the-bundle"
  | "second-chance-not-cheaper"
  | "no-card-to-charge"
  | "path-misses-the-welcome"
  | "many-further-offers"
  | "no-mail-server"
  | "words-to-write"
  | "wrong-sum"
  | "nobody-reaches-it"
  | "lesson-without-mail"

/** The place in the studio where it is mended, or the one act that mends it. */
export type Fix =
  | { readonly go: "page"; readonly step: number; readonly block?: string }
  | { readonly go: "wiring"; readonly step: number }
  | { readonly go: "course"; readonly course: number }
  | { readonly go: "sequence"; readonly sequence: number }
  | { readonly go: "offer"; readonly offer: number }
  | { readonly go: "settings" | "mail" | "cards" }
  | { readonly act: "lead-on"; readonly step: number; readonly outcome: Outcome; readonly to: number }
  | { readonly act: "course-live"; readonly course: number }
  | { readonly act: "sequence-live"; readonly sequence: number }
  | { readonly act: "write-mail"; readonly sequence: number; readonly lesson: number }
  | { readonly act: "count-mails"; readonly sequence: number }

export type Finding = {
  readonly rule: Rule
  /** What stops would hurt a visitor; advice would not. */
  readonly weight: "stop" | "advice"
  /** The step it shows at on the river. */
  readonly step: number | null
  readonly where: string
  readonly suffers: string
  readonly fix: Fix
  readonly says: string
}

export type PreflightContext = {
  readonly sender: { readonly name: string; readonly email: string }
  /** Addresses of other funnels' pages, with the funnel's name. */
  readonly taken: ReadonlyMap<string, string>
  readonly selling: SellingContext
  readonly mail: MailState
}

/** How mail goes out: well, through no server at all, or what the server answered to the last test. */
export type MailState = "well" | "none" | { readonly refused: string }

export type SellingContext = {
  readonly offers: ReadonlyMap<number, Offer>
  /** Pieces gone, by offer. */
  readonly gone: ReadonlyMap<number, number>
  readonly processor: boolean
  readonly statement: string
  readonly at: number
}

export const found = (
  rule: Rule,
  step: Step,
  suffers: string,
  fix: Fix,
  says: string,
  weight: Finding["weight"] = "stop",
): Finding => ({ rule, weight, step: step.id, where: step.name, suffers, fix, says })

/** A step that sells, and what it sells isn't there. `chosen`: it was once. */
export function withoutOffer(step: Step, chosen: boolean): Finding[] {
  return [
    found(
      "offer-missing",
      step,
      chosen
        ? `What “${step.name}” sold is no longer on offer: visitors can't have it.`
        : `“${step.name}” sells nothing: no offer is chosen.`,
      { go: "wiring", step: step.id },
      "Choose an offer",
    ),
  ]
}

/** An offer that visitors of a step can't have. */
export function notToBeHad(step: Step, offer: Offer, state: Exclude<Availability, "open">): Finding {
  return found(
    "offer-not-to-be-had",
    step,
    {
      "sold-out": `“${offer.publicName}” is sold out: visitors of “${step.name}” can't have it.`,
      over: `“${offer.publicName}” is over: visitors of “${step.name}” can't have it.`,
      "not-yet": `“${offer.publicName}” can't be had yet: visitors of “${step.name}” are told so.`,
    }[state],
    { go: "offer", offer: offer.id },
    "Look at its limits",
  )
}

/** A course that opens where a step leads. */
export function checkCourse(course: CourseCard, step: Step): Finding[] {
  const base = { rule: "course-not-ready", weight: "stop", step: step.id, where: course.title } as const
  if (!course.lessons.some((l) => l.state === "live"))
    return [
      {
        ...base,
        suffers: `“${course.title}” opens, and there is nothing in it: no lesson is live.`,
        fix: { go: "course", course: course.id },
        says: "Put a lesson live",
      },
    ]
  if (course.state === "draft")
    return [
      {
        ...base,
        suffers: `“${course.title}” is still a draft: people who were let in stand before a closed door.`,
        fix: { act: "course-live", course: course.id },
        says: "Put the course live",
      },
    ]
  return []
}
