// Where a webinar stands at an instant, for everybody of a date alike: by the server's clock alone. A recording begins at its time; what
// is live, when its host begins.

import type { Webinar } from "./webinar"

/** One date. Instants are ms since 1970, UTC. */
export type RecordingRun = {
  readonly starts: number
  /** Null: a recording plays. */
  readonly live: { readonly begun: number | null } | null
  /** When it is over, at the latest. */
  readonly over: number
}

export type Playing =
  | { readonly phase: "before"; readonly inMs: number }
  /** Its time has come, and its host hasn't. */
  | { readonly phase: "waiting" }
  /** `second`: of what plays; `elapsed`: seconds since it began. */
  | { readonly phase: "running"; readonly second: number; readonly elapsed: number }
  | { readonly phase: "over" }

/** @param seconds how long what plays is; one that is shorter than the webinar begins anew */
export function playingAt(run: RecordingRun, seconds: number, now: number): Playing {
  if (now >= run.over) return { phase: "over" }
  const began = beganAt(run)
  if (began === null) return now < run.starts ? { phase: "before", inMs: run.starts - now } : { phase: "waiting" }
  if (now < began) return { phase: "before", inMs: began - now }
  const elapsed = (now - began) / 1000
  return { phase: "running", second: seconds > 0 ? elapsed % seconds : elapsed, elapsed }
}

/** When it began, or will; null: nobody knows yet. */
export const beganAt = (run: RecordingRun): number | null => (run.live ? run.live.begun : run.starts)

/** The same of a date as it is kept: what has no recording is live. */
export function playingOn(
  w: Pick<Webinar, "recording">,
  d: { readonly starts: Date; readonly over: Date; readonly begun: Date | null },
  seconds: number | null,
  now: number,
): Playing {
  const live = w.recording === null ? { begun: d.begun?.getTime() ?? null } : null
  return playingAt({ starts: d.starts.getTime(), live, over: d.over.getTime() }, seconds ?? 0, now)
}

/** Whether what a webinar leads to is shown by now: from its minute on, or earlier by the host's hand. */
export const isOffered = (w: Pick<Webinar, "offer" | "offerMinute">, playing: Playing, byHand: boolean): boolean =>
  w.offer !== null && playing.phase === "running" && (byHand || playing.elapsed >= w.offerMinute * 60)
