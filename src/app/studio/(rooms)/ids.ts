import { notFound } from "next/navigation"

/** The number in an address, or the page that says nothing stands there. */
export function idOf(part: string): number {
  return /^[1-9]\d{0,8}$/.test(part) ? Number(part) : notFound()
}
