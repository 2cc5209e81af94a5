// A link of this school as a QR code, for those who may ask for it.
import { qrSvg } from "@/core/affiliate/qr"
import { context } from "./guard"

export function qrAnswer(request: Request): Response {
  const of = new URL(request.url).searchParams.get("of") ?? ""
  if (!of.startsWith(`${context().config.origin}/`) || of.length > 400) return new Response("", { status: 404 })
  return new Response(qrSvg(of), {
    headers: { "content-type": "image/svg+xml", "cache-control": "private, max-age=3600" },
  })
}
