// Where a recording stands that plays in step for everybody of a date: by the server's clock alone.

export type Playing =
  | { readonly phase: "before"; readonly inMs: number }
  /** `second`: of the recording. */
  | { readonly phase: "running"; readonly second: number }
  | { readonly phase: "over" }

/**
 * @param start of the date, ms since 1970, UTC
 * @param minutes how long the webinar takes
 * @param seconds how long the recording is; one that is shorter than the webinar begins anew
 */
export function playingAt(start: number, minutes: number, seconds: number, now: number): Playing {
  if (now < start) return { phase: "before", inMs: start - now }
  const elapsed = (now - start) / 1000
  if (elapsed >= minutes * 60) return { phase: "over" }
  return { phase: "running", second: seconds > 0 ? elapsed % seconds : elapsed }
}
