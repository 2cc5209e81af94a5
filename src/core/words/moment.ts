// An instant in words where somebody is: "Thursday 3 December at 19:00 (Oslo time)".
import { words } from "./en"
import { locale } from "./locale"

/** @param at ms since 1970, UTC */
export function momentIn(at: number, zone: string): string {
  return words.mail.moment(longMoment(at, zone), cityOf(zone))
}

/** The same without its zone: "Thursday 3 December at 19:00". */
export function longMoment(at: number, zone: string): string {
  return new Intl.DateTimeFormat(locale, {
    weekday: "long",
    day: "numeric",
    month: "long",
    hour: "2-digit",
    minute: "2-digit",
    timeZone: zone,
  }).format(at)
}

/** The day of an instant in words: "3 December 2026". */
export const dateIn = (at: number, zone: string): string =>
  new Intl.DateTimeFormat(locale, { dateStyle: "long", timeZone: zone }).format(at)

/** The city that a zone is named after: "America/Lima" is Lima. */
export const cityOf = (zone: string): string => (zone.split("/").at(-1) ?? zone).replace(/_/g, " ")
