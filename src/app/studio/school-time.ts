// What time it is at the school, for what moves in the browser: the clock in the bar sets it, since business time may be
// another than the browser's, and so may the zone.
let ahead = 0
let zone = "UTC"

/** @param now business time at this moment, ms */
export function setSchoolTime(now: number, schoolZone: string): void {
  ahead = now - Date.now()
  zone = schoolZone
}

/** Business time, ms. */
export const schoolNow = (): number => Date.now() + ahead

/** The day at the school some days from today, as "2026-11-30". */
export const schoolDay = (days = 0): string =>
  new Intl.DateTimeFormat("sv", { timeZone: zone }).format(schoolNow() + days * 86_400_000)

/** The next whole hour there, tomorrow: a day and minutes of it. */
export function nextHourTomorrow(): { date: string; at: number } {
  const [date, hour] = new Intl.DateTimeFormat("sv", { timeZone: zone, dateStyle: "short", timeStyle: "short" })
    .format(schoolNow() + 25 * 3_600_000)
    .split(" ")
  return { date: date!, at: Number(hour!.slice(0, 2)) * 60 }
}
