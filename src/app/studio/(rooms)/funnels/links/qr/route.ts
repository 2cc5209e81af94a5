import { studio } from "@/app/guard"
import { qrAnswer } from "@/app/qr"

/** An address of this school as a QR code. */
export async function GET(request: Request): Promise<Response> {
  await studio()
  return qrAnswer(request)
}
