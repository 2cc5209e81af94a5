// What happened to a person, in words that follow their name.
import type { HappeningKind } from "../happening"
import { sourceText } from "./source"

/** A fact of a story: a code with what is known of it. */
export type StoryFact = {
  readonly words: string | null
  readonly step: string | null
  readonly source: string | null
  readonly via: string | null
}

export const storyWords: Readonly<Record<HappeningKind, (f: StoryFact) => string>> = {
  arrived: (f) =>
    f.via === "source"
      ? `came to “${f.step ?? "a page"}” from ${sourceText(f.source)}`
      : `went on to “${f.step ?? "a step"}”${f.via === "mail" ? " by way of an e-mail" : ""}`,
  asked: () => "asked to join",
  confirmed: (f) => `confirmed the address and agreed: “${f.words ?? ""}”`,
  "asked-again": () => "asked to join once more, and was mailed a sign-in link",
  "signed-in": (f) => (f.words === "password" ? "signed in with the password" : "signed in by a mailed link"),
  admitted: (f) => `was let into ${f.words}`,
  "sequence-begun": (f) => `began ${f.words}`,
  "sequence-ended": (f) => `${f.words}`,
  "sequence-not-begun": (f) => `did not begin ${f.words}`,
  tagged: (f) => `was tagged “${f.words}”`,
  "coupon-used": (f) => `used the coupon ${f.words}`,
  answered: (f) => `answered ${f.words}`,
  picked: (f) => `chose ${f.words}`,
  untagged: (f) => `lost the tag “${f.words}”`,
  mailed: (f) => `was sent “${f.words}”`,
  "mail-unsure": () => "may or may not have been sent an e-mail: no word came of it",
  "mail-rejected": (f) => `could not be reached: ${f.words}`,
  bounced: (f) => `an e-mail came back: ${f.words}`,
  complained: (f) => `complained of “${f.words}” to their mail provider`,
  opened: (f) => `opened “${f.words}”`,
  clicked: () => "followed a link in an e-mail",
  "lesson-opened": (f) => `opened the lesson “${f.words}”`,
  registered: (f) => `registered for the webinar “${f.words}”`,
  "registration-moved": (f) => `has a seat on another date of the webinar “${f.words}”`,
  "registration-called-off": (f) => `lost their seat: the webinar “${f.words}” was called off`,
  attended: (f) => `attended the webinar “${f.words}”`,
  "left-early": (f) => `left the webinar “${f.words}” early`,
  missed: (f) => `missed the webinar “${f.words}”`,
  "quiz-passed": (f) => `passed a quiz: ${f.words}`,
  "quiz-failed": (f) => `did not pass a quiz: ${f.words}`,
  "survey-answered": (f) => `answered a survey in “${f.words}”`,
  "handed-in": (f) => `handed in “${f.words}”`,
  "hand-in-accepted": (f) => `was accepted with “${f.words}”`,
  "module-done": (f) => `finished the module “${f.words}”`,
  "course-begun": (f) => `began the course “${f.words}”`,
  "course-done": (f) => `finished the course “${f.words}”`,
  "lesson-done": (f) => `finished the lesson “${f.words}”`,
  "left-mail": (f) => `left the e-mails by ${f.words}`,
  "returned-to-mail": () => "came back to the e-mails",
  "zone-changed": (f) => `moved to the time zone ${f.words}`,
  "address-changed": (f) => `changed the address from ${f.words}, proved by both mailboxes`,
  away: (f) => `has not been in “${f.words}” for a while`,
  bought: (f) => `bought ${f.words}`,
  declined: (f) => `declined “${f.words}”`,
  charged: (f) => `was charged for ${f.words}`,
  "charge-failed": (f) => `could not be charged for ${f.words}: the card was refused`,
  "plan-paid": (f) => `paid for ${f.words} to the end`,
  "plan-ended": (f) => `plan ended: ${f.words}`,
  refunded: (f) => `was refunded: ${f.words}`,
  posted: (f) => `was sent ${f.words} by post`,
  "card-changed": (f) => `changed to a ${f.words}`,
  "access-ended": (f) => `can no longer open what came with ${f.words}`,
  united: (f) => `was joined with ${f.words}: one person now`,
  parted: (f) => `was parted from ${f.words} again`,
  imported: () => "came in from a file",
  erased: () => "was erased",
  joined: (f) => `joined “${f.words}”`,
  "affiliate-wanted": (f) => `was invited to recommend “${f.words}”`,
  waits: (f) => `waits for “${f.words}” to open`,
  "affiliate-applied": (f) => `asked to recommend “${f.words}”`,
  "affiliate-invited": () => "was invited to be an affiliate",
  "affiliate-asked": () => "asked to be an affiliate",
  "affiliate-began": (f) => `became an affiliate, as ${f.words}`,
  "affiliate-ended": () => "is an affiliate no longer",
  "bank-changed": () => "confirmed where commission is paid",
  recommended: (f) => `joined by a link of ${f.words}`,
  "sale-counted": (f) => `bought by a recommendation. ${f.words}`,
  "sale-moved": (f) => `had a purchase given by hand to ${f.words}`,
  "commission-paid": (f) => `was paid commission of ${f.words}`,
  "chain-stopped": () => "set off a chain of more than twenty happenings, which was stopped",
}
