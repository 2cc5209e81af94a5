// Dates and numbers as the studio says them.
import { locale } from "@/core/words/locale"

export function day(at: Date | number, zone: string): string {
  return new Intl.DateTimeFormat(locale, { day: "numeric", month: "short", year: "numeric", timeZone: zone }).format(at)
}

export function moment(at: Date | number, zone: string): string {
  return new Intl.DateTimeFormat(locale, {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    timeZone: zone,
  }).format(at)
}

/** A moment that may lie years back. */
export function studioMoment(at: Date | number, zone: string): string {
  return `${day(at, zone)}, ${new Intl.DateTimeFormat(locale, { hour: "2-digit", minute: "2-digit", timeZone: zone }).format(at)}`
}

/** A moment with its weekday, as a date of something that is held. */
export function dated(at: Date | number, zone: string): string {
  const weekday = new Intl.DateTimeFormat(locale, { weekday: "short", timeZone: zone }).format(at)
  return `${weekday} ${studioMoment(at, zone)}`
}

/** How far off an instant is, in words: "in 40 minutes", "tomorrow at 07:30". */
export function soon(at: number, now: number, zone: string): string {
  const minutes = Math.round((at - now) / 60_000)
  if (minutes <= 1) return "now"
  if (minutes < 60) return `in ${minutes} minutes`
  const days = (t: number) => new Intl.DateTimeFormat("en-CA", { timeZone: zone }).format(t)
  const time = new Intl.DateTimeFormat(locale, { hour: "2-digit", minute: "2-digit", timeZone: zone }).format(at)
  if (days(at) === days(now)) return `today at ${time}`
  if (days(at) === days(now + 86_400_000)) return `tomorrow at ${time}`
  return `on ${moment(at, zone)}`
}

export function people(n: number): string {
  return n === 1 ? "1 person" : `${n.toLocaleString(locale)} people`
}

/** How many of something, as far as it is known: "203", "38,000 to 51,000". */
export function counted({ least, most }: { readonly least: number; readonly most: number }): string {
  return least === most
    ? most.toLocaleString(locale)
    : `${least.toLocaleString(locale)} to ${most.toLocaleString(locale)}`
}

export function eMails(n: number): string {
  return n === 1 ? "1 e-mail" : `${n.toLocaleString(locale)} e-mails`
}
