// The visitor's clock: their zone, and dates as they stand there.
import { locale } from "@/core/words/locale"

/** The zone of this browser (IANA). Throws where a browser has none. */
export const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone

/** Forms that ask for the zone are told. */
export function fillZone(zone: string): void {
  for (const form of document.forms) if (form.zone) form.zone.value = zone
}

/** Every instant of the page, said in a zone. */
export function showTimes(timeZone?: string): void {
  const form = new Intl.DateTimeFormat(locale, {
    weekday: "long",
    day: "numeric",
    month: "long",
    hour: "2-digit",
    minute: "2-digit",
    timeZone,
  })
  for (const time of document.querySelectorAll("time")) time.textContent = form.format(new Date(time.dateTime))
}
