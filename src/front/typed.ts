// The address that a device has just typed into a form, kept by the device itself.
import { askedCookie } from "@/server/person/session"
import { sign, verify } from "@/server/sign"
import type { Request } from "./exchange"
import { cookieText, type Front } from "./reply"

/** What this device typed into a form, when in ms of real time, and whether it was sent a second time. */
type Typed = { readonly email: string; readonly at: number; readonly again: boolean }

/** How long the device's own address is said to it, s. */
const said = 1_800

/** The cookie by which a device is told its own address. It says nothing of whether anybody knows it. */
export function typedCookie(front: Front, email: string, again = false): string {
  const { config } = front.s
  const text = `${Date.now()}~${again ? 1 : 0}~${email}`
  return cookieText(config, askedCookie(config), sign(config.secret, "asked", text), said)
}

export function typedOf(front: Front, req: Request): Typed | null {
  const { config } = front.s
  const given = req.cookies[askedCookie(config)]
  const read = /^(\d+)~([01])~(.+)$/.exec((given && verify(config.secret, "asked", given)) || "")
  return read && { at: Number(read[1]), again: read[2] === "1", email: read[3]! }
}
