// The personal words that can be put into an e-mail.
import type { ChipName } from "@/core/mail/chip"
import { words } from "@/core/words/en"
import { locale } from "@/core/words/locale"
import type { EditorChoices } from "@/server/sequence/sequence-view"
import type { Chip } from "@/ui/rich-text"

const otherwise: Partial<Record<ChipName, string>> = { "first-name": "friend", course: "the course", teacher: "me" }

const ours = (Object.keys(words.chip) as ChipName[]).map(
  (word): Chip => ({ word, label: words.chip[word], otherwise: otherwise[word] ?? "", group: "Names" }),
)

type Choices = Pick<EditorChoices, "fields" | "offers" | "webinars">

/** Those that a line such as a subject can have: each by what it is called. */
export function lineWords({ fields }: Choices): Chip[] {
  return [
    ...ours,
    ...fields.map((f) => ({ word: `field-${f.id}`, label: f.name, otherwise: "…", group: "Their answers" })),
  ]
}

/** Those that a text can have. */
export function textWords(choices: Choices): Chip[] {
  return [
    ...lineWords(choices),
    ...choices.offers.flatMap((o) => [
      { word: `offer-${o.id}`, label: o.name, otherwise: "the offer", group: "Offers" },
      { word: `price-${o.id}`, label: `${o.name}: price`, otherwise: "the price on its page", group: "Offers" },
      { word: `until-${o.id}`, label: `${o.name}: last day`, otherwise: "a while", group: "Offers" },
    ]),
    ...choices.webinars.flatMap((w) => [
      { word: `deal-${w.id}`, label: `${w.name}: end of their price`, otherwise: "a while", group: "Webinars" },
      { word: `replay-${w.id}`, label: `${w.name}: end of the replay`, otherwise: "a while", group: "Webinars" },
    ]),
  ]
}

/** A time of the school, such as 2026-12-24T19:00, that every reader sees as it is where they are. */
export function momentWord(local: string): Chip {
  const said = new Intl.DateTimeFormat(locale, {
    weekday: "long",
    day: "numeric",
    month: "long",
    hour: "2-digit",
    minute: "2-digit",
    timeZone: "UTC",
  }).format(new Date(`${local}Z`))
  return { word: `moment-${local}`, label: `${said}, where they are`, otherwise: "", group: "Times" }
}
