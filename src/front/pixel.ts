// A picture of one pixel, which nobody sees: that it was asked for is what it tells.
import type { HttpAnswer } from "./exchange"
import { commonHeaders } from "./policy"

const pixel = Buffer.from("R0lGODlhAQABAIAAAP///wAAACH5BAEAAAAALAAAAAABAAEAAAICRAEAOw==", "base64")

export function onePixel(more: HttpAnswer["headers"] = {}): HttpAnswer {
  return {
    status: 200,
    headers: { ...commonHeaders, "content-type": "image/gif", "cache-control": "no-store", ...more },
    body: pixel,
  }
}
