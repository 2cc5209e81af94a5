import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { statementFile } from "@/server/affiliate/statement"
import { idOf } from "../../../asked"

/** A statement as the affiliate has it. */
export async function GET(_: Request, { params }: { params: Promise<{ statement: string }> }): Promise<Response> {
  const s = await studio()
  const file = await statementFile(s.db, idOf((await params).statement), null)
  if (!file) notFound()
  return new Response(file.bytes as BodyInit, {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": `attachment; filename="${file.name}"`,
      "cache-control": "no-store",
    },
  })
}
