import { comeAgain, unlessBusy } from "@/app/busy"
import { affiliateHere, context } from "@/app/guard"
import { idOf } from "@/app/studio/(rooms)/asked"
import { statementFile } from "@/server/affiliate/statement"

/** A statement, for the affiliate whose it is. */
export async function GET(_: Request, { params }: { params: Promise<{ statement: string }> }): Promise<Response> {
  const a = await affiliateHere()
  const { db, config } = context()
  const file = await unlessBusy(statementFile(db, config, idOf((await params).statement), a.id))
  if (file === "busy") return comeAgain()
  if (!file) return new Response("", { status: 404 })
  return new Response(file.bytes as BodyInit, {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": `attachment; filename="${file.name}"`,
      "cache-control": "no-store",
    },
  })
}
