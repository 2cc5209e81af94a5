// On what somebody looks at a page, and whether it is somebody: told from what their browser says of itself.
import { isbot } from "isbot"

export const devices = ["unknown", "phone", "tablet", "computer"] as const
export type Device = (typeof devices)[number]

/**
 * The kind of device, from the headers of a request (names in lower case). `Sec-CH-UA-Mobile` (User-Agent Client Hints, W3C community
 * group), else the words that browsers keep in their name: "Mobi" for phones (MDN, Browser detection using the user agent), "Tablet",
 * "iPad", or Android without it for tablets. A tablet that calls itself a computer is taken for one.
 */
export function deviceOf(headers: Readonly<Record<string, string | readonly string[] | undefined>>): Device {
  const agent = headers["user-agent"]
  if (typeof agent !== "string" || !agent) return "unknown"
  if (/iPad|Tablet|Android(?!.*Mobi)/i.test(agent)) return "tablet"
  return headers["sec-ch-ua-mobile"] === "?1" || /Mobi/i.test(agent) ? "phone" : "computer"
}

/** What was said of names lately: looking one up takes 4 µs, which is much beside a page from memory. */
const known = new Map<string, boolean>()
const mostKnown = 2_000

/** Whether a program sent it that says so, or that says nothing of itself at all. */
export function sentByProgram(agent: string | undefined): boolean {
  if (!agent) return true
  const said = known.get(agent)
  if (said !== undefined) return said
  if (known.size >= mostKnown) known.clear()
  const program = isbot(agent)
  known.set(agent, program)
  return program
}
