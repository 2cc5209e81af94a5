// A coupon code that came with a link.
import { couponCookie } from "@/server/person/session"
import type { HttpAnswer, Request } from "./exchange"
import { cookieText, type Front } from "./reply"

/** The code that a visitor came with; empty: none. */
export function couponKept(front: Front, req: Request): string {
  try {
    return decodeURIComponent(req.cookies[couponCookie(front.s.config)] ?? "").slice(0, 60)
  } catch {
    return ""
  }
}

/** A code that came with the link goes along to the checkout. */
export function withCoupon(front: Front, req: Request, answer: HttpAnswer): HttpAnswer {
  const code = req.query.get("coupon")
  if (!code) return answer
  const { config } = front.s
  const cookie = cookieText(config, couponCookie(config), encodeURIComponent(code.slice(0, 60)), 2_592_000)
  const before = answer.headers["set-cookie"]
  return {
    ...answer,
    headers: { ...answer.headers, "set-cookie": before ? [before, cookie].flat() : cookie },
  }
}
