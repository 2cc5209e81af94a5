// A date of a webinar as an entry of somebody's calendar (RFC 5545), and as a message about it (RFC 5546): asked for, changed and
// called off under the same UID.
import ICAL from "ical.js"
import ical, { ICalCalendarMethod, ICalEventStatus } from "ical-generator"
import { Temporal } from "temporal-polyfill"
import { tzlib_get_ical_block as zoneBlock } from "timezones-ical-library"

export type WebinarEntry = {
  /** Stays the same for this seat, whatever is changed about it. */
  readonly uid: string
  /** How often it was changed. */
  readonly sequence: number
  readonly title: string
  readonly promise: string
  /** ms since 1970, UTC. */
  readonly start: number
  readonly minutes: number
  /** IANA zone of the webinar's clock. */
  readonly zone: string
  /** The way into the room. */
  readonly url: string
  readonly organiser: { readonly name: string; readonly email: string }
  readonly attendee: { readonly name: string; readonly email: string }
  /** When this was written, ms. */
  readonly at: number
}

/** A file to be put into a calendar (`publish`), or the message that asks for it or cancels it. */
export function entryText(entry: WebinarEntry, method: "publish" | "request" | "cancel"): string {
  const calendar = ical({ prodId: "//Swift Heron//EN", method: ICalCalendarMethod[methods[method]] })
  const zone = agreeing(entry.zone, [entry.start, entry.start + entry.minutes * 60_000]) ? entry.zone : "UTC"
  if (zone !== "UTC") calendar.timezone({ name: null, generator: () => blockOf(zone) })
  const instant = (ms: number) => Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone)
  const event = calendar.createEvent({
    id: entry.uid,
    sequence: entry.sequence,
    stamp: Temporal.Instant.fromEpochMilliseconds(entry.at),
    start: instant(entry.start),
    end: instant(entry.start + entry.minutes * 60_000),
    timezone: zone === "UTC" ? null : zone,
    summary: entry.title,
    description: `${entry.promise ? `${entry.promise}\n\n` : ""}${entry.url}`,
    url: entry.url,
    location: entry.url,
    organizer: entry.organiser,
    status: method === "cancel" ? ICalEventStatus.CANCELLED : ICalEventStatus.CONFIRMED,
  })
  if (method !== "publish") event.createAttendee({ ...entry.attendee, rsvp: false })
  return calendar.toString()
}

const methods = { publish: "PUBLISH", request: "REQUEST", cancel: "CANCEL" } as const

/** The rules of a zone as RFC 5545 writes them, or null. Zones that share their rules share a block: it is named by ours. */
function blockOf(zone: string): string | null {
  const found = zoneBlock(zone)
  const block = Array.isArray(found) ? found[0] : undefined
  return block ? block.replace(/^(TZID|X-LIC-LOCATION):.*$/gm, `$1:${zone}`) : null
}

/** Whether the block says of these instants what the tables here say: they may be of another year. Otherwise UTC is written. */
function agreeing(zone: string, instants: readonly number[]): boolean {
  const block = blockOf(zone)
  if (!block) return false
  const rules = new ICAL.Timezone(new ICAL.Component(ICAL.parse(block)))
  return instants.every((at) => {
    const here = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
    const local = ICAL.Time.fromJSDate(new Date(here.toPlainDateTime().toZonedDateTime("UTC").epochMilliseconds), true)
    return rules.utcOffset(local) * 1e9 === here.offsetNanoseconds
  })
}
