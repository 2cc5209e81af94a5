// Why an e-mail of a sequence was never written to somebody, in sentences.
import { locale } from "../words/locale"
import { type Flow, sendStepOf, stepAfter, stepInto, stepOf } from "./flow"
import { isEnd, sidesOf } from "./step/list"

/** One time that it began for somebody; instants in ms. */
export type MissRun = {
  readonly begun: number
  readonly ended: number | null
  /** Why it ended, as it was put down. */
  readonly why: string | null
  /** Where they stand, or stood when it ended; null: behind the last step. */
  readonly step: number | null
}

export type SequenceMiss = {
  /** As it is live; null: it never was. */
  readonly flow: Flow | null
  readonly mail: number
  /** In their order. */
  readonly runs: readonly MissRun[]
  /** When it would have begun last and did not, and why. */
  readonly notBegun: { readonly at: number; readonly why: string } | null
  /** Since when they do without it or without all e-mails that nobody asked for; null: they don't. */
  readonly without: number | null
  /** A step in words. */
  says(step: number): string
}

/** Every step that somebody can still come to who stands at one, with itself. */
export function reachableFrom(flow: Flow, from: number): Set<number> {
  const seen = new Set<number>()
  const look = (id: number | null | undefined): void => {
    const step = id == null || seen.has(id) ? undefined : stepOf(flow, id)
    if (!step) return
    seen.add(step.id)
    if (isEnd(step)) return
    if (sidesOf(step).length) for (const side of ["yes", "no"] as const) look(stepInto(flow, step, side)?.id)
    else look(stepAfter(flow, step.id)?.id)
  }
  look(from)
  return seen
}

const whyWords: Readonly<Record<string, string>> = {
  left: "they unsubscribed",
  undeliverable: "mail to them came back",
  "by hand": "it was ended by hand",
  "begun again": "it began again",
}
const whySays = (why: string | null) => (why ? (whyWords[why] ?? why) : "it was over")

/** In the order of what happened; never empty. @param zone IANA zone in which days are said */
export function sequenceMissSays(m: SequenceMiss, zone: string): string[] {
  const date = new Intl.DateTimeFormat(locale, { timeZone: zone, day: "numeric", month: "long", year: "numeric" })
  const on = (at: number) => `on ${date.format(at)}`
  const sent = m.flow && sendStepOf(m.flow, m.mail)
  if (!m.flow) return ["The sequence has never been live."]
  if (!sent) return ["As it is live now, no step of the sequence sends it."]
  const says: string[] = []
  if (m.without !== null) says.push(`They do without it, and said so ${on(m.without)}.`)
  const last = m.runs.at(-1)
  if (!last) {
    says.push(
      m.notBegun
        ? `It was not begun for them ${on(m.notBegun.at)}: ${m.notBegun.why}.`
        : "The sequence has never begun for them.",
    )
    return says
  }
  const can = last.step === null ? new Set<number>() : reachableFrom(m.flow, last.step)
  const place = last.step === null || !stepOf(m.flow, last.step) ? null : m.says(last.step)
  if (last.ended !== null) {
    says.push(`It began for them ${on(last.begun)} and ended ${on(last.ended)}: ${whySays(last.why)}.`)
    if (place && can.has(sent.id)) says.push(`They stood at “${place}” then, before this e-mail.`)
    else says.push("They did not come past this e-mail: they went another way, or it was put in later.")
    return says
  }
  says.push(`It began for them ${on(last.begun)}${place ? `, and they stand at “${place}”` : ""}.`)
  says.push(
    can.has(sent.id)
      ? "This e-mail is still before them."
      : "They don’t come past this e-mail any more: they went another way, or it was put in behind them.",
  )
  return says
}
