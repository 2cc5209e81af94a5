import { readFile } from "node:fs/promises"
import { studio } from "@/app/guard"
import { bankFileReady } from "@/server/affiliate/payout-after"
import { idOf } from "../../../../asked"

/** The payout for the bank: ISO 20022 pain.001.001.09. */
export async function GET(_: Request, { params }: { params: Promise<{ payout: string }> }): Promise<Response> {
  const s = await studio()
  const id = idOf((await params).payout)
  const file = await bankFileReady(s, id)
  if (!file) return new Response("It is being written.", { status: 503, headers: { "retry-after": "5" } })
  return new Response(new Uint8Array(await readFile(file.path)), {
    headers: {
      "content-type": "application/xml",
      "content-disposition": `attachment; filename="payout-P${id}.xml"`,
      "cache-control": "no-store",
    },
  })
}
