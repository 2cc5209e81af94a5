import { portalPerson, surroundings } from "@/app/door"
import { qrSvg } from "@/core/affiliate/qr"

/** A link of this school as a QR code, for whoever is signed in to the portal. */
export async function GET(request: Request): Promise<Response> {
  const of = new URL(request.url).searchParams.get("of") ?? ""
  const ours = of.startsWith(`${surroundings().config.origin}/`) && of.length <= 400
  if ((await portalPerson()) === null || !ours) return new Response("", { status: 404 })
  return new Response(qrSvg(of), {
    headers: { "content-type": "image/svg+xml", "cache-control": "private, max-age=3600" },
  })
}
