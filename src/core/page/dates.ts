// The parts of a webinar's pages that only the moment knows: the dates to choose from, and the seat somebody has.

import type { Event, WithContext } from "schema-dts"
import { type Html, html } from "../html"
import { words } from "../words/en"
import { longMoment } from "../words/moment"
import { dataTag } from "./data"

/** An instant, in a zone that is named; a browser shows it where it is. */
export function momentHtml(at: number, zone: string): Html {
  return html`<time datetime="${new Date(at).toISOString()}">${longMoment(at, zone)}</time>`
}

export type DateChoice = {
  /** What the form sends. */
  readonly value: string
  readonly at: number
  /** Seats that are free; null: there is no limit. */
  readonly left: number | null
}

/** The dates to choose from. `asks`: they depend on the zone, and are asked for anew with it. */
export function datesHtml(v: {
  readonly dates: readonly DateChoice[]
  readonly chosen: string | null
  readonly zone: string
  readonly asks: boolean
  /** For how many days there is a replay; null: there is none. */
  readonly replayDays: number | null
  /** What it is, for programs that read; not given: it begins whenever it suits, and is no event. */
  readonly event?: {
    readonly name: string
    readonly about: string
    readonly minutes: number
    readonly url: string
    readonly school: string
  }
}): Html {
  const w = words.webinar
  if (!v.dates.length) return html`<p class="section tinted">${w.noDates}</p>`
  const free = v.dates.filter((d) => d.left !== 0)
  const chosen = free.find((d) => d.value === v.chosen) ?? free[0]
  return html`<fieldset><legend>${w.when}</legend>${v.dates.map(
    (d) =>
      html`<label class="pick"><input type="radio" name="date" value="${d.value}" required${d === chosen ? " checked" : ""}${d.left === 0 ? " disabled" : ""}> <span>${momentHtml(d.at, v.zone)}${d.left === null ? "" : html`<em>${w.seatsLeft(d.left)}</em>`}</span></label>`,
  )}<label class="small">${w.zone} <select id="tz"${v.asks ? " data-asks" : ""} disabled><option>${v.zone}</option></select></label></fieldset><p class="small">${w.replayFor(v.replayDays)}</p>${v.event ? eventData(v.event, v.dates) : ""}`
}

/** Each date as an event that is held online (schema.org). */
function eventData(
  e: { name: string; about: string; minutes: number; url: string; school: string },
  dates: readonly DateChoice[],
): Html {
  const events: WithContext<Event>[] = dates.map((d) => ({
    "@context": "https://schema.org",
    "@type": "Event",
    name: e.name,
    ...(e.about ? { description: e.about } : {}),
    startDate: new Date(d.at).toISOString(),
    endDate: new Date(d.at + e.minutes * 60_000).toISOString(),
    eventAttendanceMode: "https://schema.org/OnlineEventAttendanceMode",
    eventStatus: "https://schema.org/EventScheduled",
    location: { "@type": "VirtualLocation", url: e.url },
    organizer: { "@type": "Organization", name: e.school },
  }))
  return dataTag(events)
}

/** What somebody has registered for. */
export function seatHtml(v: {
  readonly at: number
  readonly zone: string
  readonly minutes: number
  /** Whether whoever looks has proved to be the one: they are told that it is theirs, and get the way into the room. */
  readonly theirs: { readonly room: string; readonly calendar: string } | null
  readonly calledOff: boolean
}): Html {
  const w = words.webinar
  const date = html`<p class="sentence">${momentHtml(v.at, v.zone)}<br><small>${w.lasts(v.minutes)}, <span class="zone">${v.zone}</span></small></p>`
  if (v.calledOff) return html`<div class="section tinted">${date}<p>${w.calledOff}</p></div>`
  if (!v.theirs) return html`<div class="section tinted">${date}<p>${w.lookIntoInbox}</p></div>`
  return html`<div class="section tinted">${date}<p>${w.seated}</p><p><a class="go" href="${v.theirs.room}">${w.room}</a></p><p><a href="${v.theirs.calendar}">${w.addToCalendar}</a></p></div>`
}
