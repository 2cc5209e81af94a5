// Why somebody did not get a broadcast, in sentences: as things were when it was planned, where that can be told.
import { locale } from "../words/locale"

/** What is known of somebody and a broadcast that was never written to them. Instants in ms. */
export type Miss = {
  readonly planned: number
  readonly joined: number
  /** Since when their first address isn't written to; null: it is. */
  readonly suppressed: { readonly why: "left" | "undeliverable"; readonly at: number | null } | null
  /** What they had last said to being written to by then, and when; null: they weren't asked. */
  readonly consent: { readonly given: boolean; readonly at: number } | null
  /** Since when they do without letters to everybody; null: they don't. */
  readonly without: number | null
  /** Whether they are among those it goes to, and among those left out of them, as things are now. */
  readonly among: boolean
  readonly leftOut: boolean
  /** Those questions, after "people who"; empty: everybody. */
  readonly to: string
  readonly less: string
}

/** In the order in which it is looked at; never empty. @param zone IANA zone in which days are said */
export function missSays(m: Miss, zone: string): string[] {
  const date = new Intl.DateTimeFormat(locale, { timeZone: zone, day: "numeric", month: "long", year: "numeric" })
  const on = (at: number | null) => (at === null ? "" : ` on ${date.format(at)}`)
  const then = (at: number | null) => at === null || at <= m.planned
  const says: string[] = []
  if (m.joined > m.planned) says.push(`They joined${on(m.joined)}, after it was planned${on(m.planned)}.`)
  if (m.suppressed && then(m.suppressed.at))
    says.push(
      m.suppressed.why === "left"
        ? `They had unsubscribed${on(m.suppressed.at)}.`
        : `Mail to them had come back for good${on(m.suppressed.at)}.`,
    )
  if (!m.consent || m.consent.at > m.planned) says.push("They had not agreed to be written to.")
  else if (!m.consent.given && m.suppressed?.why !== "left")
    says.push(`They had taken back their consent${on(m.consent.at)}.`)
  if (m.without !== null && then(m.without)) says.push(`They do without broadcasts, and said so${on(m.without)}.`)
  if (!m.among) says.push(`As things are now they aren’t among those it goes to: people who ${m.to || "are known"}.`)
  if (m.leftOut) says.push(`As things are now they are among those it leaves out: people who ${m.less || "are known"}.`)
  if (!says.length)
    says.push(
      `As things are now they would get it: something about them has changed since it was planned${on(m.planned)}.`,
    )
  return says
}
