// What an SMTP server's answer means for the message, and when to try again.

export type DeliveryVerdict = "again" | "rejected"

/**
 * Permanent replies (RFC 5321 4.2.1: 5yz) end the matter for this receiver; everything else is worth another try:
 * transient replies (4yz), and no reply at all. 5.7.x after authentication trouble (530, 535, 538) is about us and
 * not about the receiver, so it is tried again.
 */
export function verdict(reply: number | undefined): DeliveryVerdict {
  if (reply === undefined || reply < 500 || reply > 599) return "again"
  return [530, 534, 535, 538].includes(reply) ? "again" : "rejected"
}

/** Whether a reply asks to come again later (RFC 5321 4.2.1: 4yz), as receivers do whom it is too much. */
export const isLater = (reply: number | undefined) => reply !== undefined && reply >= 400 && reply < 500

/** How often a message is offered before it is given up: about three days, within RFC 5321 4.5.4.1's four to five. */
export const mostTries = 14

/** Pause after the given number of failed tries, in ms: 1, 2, 4 … minutes, at most 8 hours (common practice). */
export function pauseAfter(tries: number): number {
  return Math.min(60_000 * 2 ** Math.max(0, tries - 1), 8 * 3_600_000)
}
