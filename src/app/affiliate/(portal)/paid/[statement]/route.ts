import { affiliateHere, surroundings } from "@/app/door"
import { idOf } from "@/app/studio/(rooms)/asked"
import { statementFile } from "@/server/affiliate/statement"

/** A statement, for the affiliate whose it is. */
export async function GET(_: Request, { params }: { params: Promise<{ statement: string }> }): Promise<Response> {
  const a = await affiliateHere()
  const file = await statementFile(surroundings().db, idOf((await params).statement), a.id)
  if (!file) return new Response("", { status: 404 })
  return new Response(file.bytes as BodyInit, {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": `attachment; filename="${file.name}"`,
      "cache-control": "no-store",
    },
  })
}
