import { portalPerson } from "@/app/guard"
import { qrAnswer } from "@/app/qr"

/** A link of this school as a QR code, for whoever is signed in to the portal. */
export async function GET(request: Request): Promise<Response> {
  return (await portalPerson()) === null ? new Response("", { status: 404 }) : qrAnswer(request)
}
