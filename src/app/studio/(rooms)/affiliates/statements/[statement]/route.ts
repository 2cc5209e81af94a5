import { notFound } from "next/navigation"
import { comeAgain, unlessBusy } from "@/app/busy"
import { studio } from "@/app/guard"
import { statementFile } from "@/server/affiliate/statement"
import { idOf } from "../../../asked"

/** A statement as the affiliate has it. */
export async function GET(_: Request, { params }: { params: Promise<{ statement: string }> }): Promise<Response> {
  const s = await studio()
  const file = await unlessBusy(statementFile(s.db, s.config, idOf((await params).statement), null))
  if (file === "busy") return comeAgain()
  if (!file) notFound()
  return new Response(file.bytes as BodyInit, {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": `attachment; filename="${file.name}"`,
      "cache-control": "no-store",
    },
  })
}
