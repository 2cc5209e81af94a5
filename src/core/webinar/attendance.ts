// Who was there: put together from the beats that a room sends while it is open on a device, and from its leaves. Beats get lost,
// devices overlap, laptops sleep; what is counted is the time in which at least one device was there, within the webinar.

/** A room beats so often, ms. */
export const beatEvery = 15_000
/** Two beats of one device that lie no further apart belong to one stay: two in between may be lost. */
export const longestGap = 3 * beatEvery

/** From, to: ms since 1970, UTC; from ≤ to. */
export type Stay = { readonly from: number; readonly to: number }

/** What a beat comes to, given the device's latest stay: it goes on, or a new one begins. A beat from before is nothing new. */
export function beatOf(latest: Stay | null, at: number): Stay {
  if (!latest || at - latest.to > longestGap) return { from: at, to: at }
  return { from: latest.from, to: Math.max(latest.to, at) }
}

/** The stays of one device, by its beats in any order. */
export function staysOf(beats: readonly number[]): Stay[] {
  const stays: Stay[] = []
  for (const at of [...beats].sort((a, b) => a - b)) {
    const latest = stays.at(-1) ?? null
    const stay = beatOf(latest, at)
    if (latest && stay.from === latest.from) stays[stays.length - 1] = stay
    else stays.push(stay)
  }
  return stays
}

/** When somebody was there, on any device: stays in their order that neither touch nor overlap, within the webinar. */
export function presenceOf(stays: readonly Stay[], within: Stay): Stay[] {
  const found: Stay[] = []
  for (const stay of [...stays].sort((a, b) => a.from - b.from)) {
    const from = Math.max(stay.from, within.from)
    const to = Math.min(stay.to, within.to)
    if (from > to || from >= within.to) continue
    const last = found.at(-1)
    if (last && from <= last.to) found[found.length - 1] = { from: last.from, to: Math.max(last.to, to) }
    else found.push({ from, to })
  }
  return found
}

/** How long they were there, ms; between nothing and the whole of it. */
export const lengthOf = (presence: readonly Stay[]): number => presence.reduce((sum, p) => sum + p.to - p.from, 0)

export type Limits = {
  /** Who stayed for so many percent of it has attended. 1 to 100. */
  readonly attended: number
  /** Who stayed for fewer minutes has missed it. */
  readonly missed: number
}

export type Attendance = "attended" | "left-early" | "missed"

/** What it comes to. It is final once the webinar has ended: until then somebody may still come, or stay. */
export function attendanceOf(presence: readonly Stay[], within: Stay, limits: Limits): Attendance {
  const there = lengthOf(presence)
  if (there * 100 >= limits.attended * (within.to - within.from) && presence.length > 0) return "attended"
  return there > 0 && there >= limits.missed * 60_000 ? "left-early" : "missed"
}

/** How long after its end what somebody's attendance comes to is final, ms: the last beats are still on their way. */
export const settledAfter = 20_000

/**
 * How many were there in each minute of it: one number a minute, of people who were there at some time in that minute. The sum is that
 * of everybody's minutes.
 */
export function curveOf(people: readonly (readonly Stay[])[], within: Stay): number[] {
  const minutes = Math.max(0, Math.ceil((within.to - within.from) / 60_000))
  const change = new Int32Array(minutes + 1)
  for (const presence of people) {
    let counted = -1
    for (const { from, to } of presence) {
      // Two stays of one person may lie in the same minute: it counts once.
      const first = Math.max(counted + 1, Math.floor((from - within.from) / 60_000))
      const last = Math.min(
        minutes - 1,
        Math.max(Math.floor((from - within.from) / 60_000), lastMinute(to - within.from)),
      )
      if (last < first) continue
      change[first]! += 1
      change[last + 1]! -= 1
      counted = last
    }
  }
  const curve: number[] = []
  let there = 0
  for (let m = 0; m < minutes; m++) {
    there += change[m]!
    curve.push(there)
  }
  return curve
}

/** The minute in which something ends: at the very beginning of one, the one before. */
const lastMinute = (ms: number) => Math.ceil(ms / 60_000) - 1
