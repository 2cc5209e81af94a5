import { Readable } from "node:stream"
import { studio } from "@/app/guard"
import { refusedLines } from "@/server/person/import"
import { idOf } from "../../../../asked"

/** The lines of a file that were refused, each with why. */
export async function GET(_: Request, { params }: { params: Promise<{ import: string }> }): Promise<Response> {
  const lines = await refusedLines(await studio(), idOf((await params).import))
  if (!lines) return new Response("", { status: 404 })
  return new Response(Readable.toWeb(lines) as ReadableStream, {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": 'attachment; filename="refused.csv"',
      "cache-control": "no-store",
    },
  })
}
