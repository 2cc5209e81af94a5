// What the checklist of an e-mail says.
import type { LetterFinding, LetterRule } from "@/core/mail/check"
import { locale } from "@/core/words/locale"

const says: Readonly<Record<LetterRule, (data: LetterFinding["data"]) => string>> = {
  "no-subject": () => "It has no subject.",
  "long-subject": (n) => `Phones cut a subject of ${n} letters: they show about 41.`,
  "all-capitals": () => "The subject is all in capitals.",
  "no-preview": () => "It has no preview line: inboxes show the beginning of the text.",
  "no-text": () => "It has no text.",
  "no-sender": () => "The school has no sender yet: nobody can tell who it comes from.",
  "no-address": () => "The school has no postal address yet. In many countries the law asks for one.",
  "many-links": (n) => `${n} links are many: readers don’t know which to follow.`,
  "leads-nowhere": (button) => `The button “${button}” leads nowhere.`,
  "leads-not-live": (button) => `The button “${button}” leads to what isn’t live.`,
  "dead-links": (n) =>
    n === 1 ? "A link or button in it leads nowhere." : `${n} links or buttons in it lead nowhere.`,
  gap: (says) => `${says}`.replace(/^./, (c) => c.toUpperCase()).concat("."),
  "picture-only": () => "It is almost only a picture: whoever doesn’t see pictures gets nothing.",
  "no-alt": (n) => `Picture ${n} has no words for those who don’t see it.`,
  "no-words": (word) => `“${word}” has no other words for those of whom it isn’t known.`,
  "too-big": (n) =>
    `It has ${Math.round(Number(n) / 1024).toLocaleString(locale)} KB: some mail programs cut it at 102, and the link to unsubscribe with it.`,
}

export const findingSays = (f: LetterFinding) => says[f.rule](f.data)
