import { studio } from "@/app/guard"
import { everythingOf } from "@/server/person/erase"
import { idOf } from "../../../asked"

/** Everything that is kept of one person. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const s = await studio()
  const all = await everythingOf(s.db, idOf((await params).id))
  if (!all) return new Response("", { status: 404 })
  return new Response(`${JSON.stringify(all, null, 1)}\n`, {
    headers: {
      "content-type": "application/json; charset=utf-8",
      "content-disposition": 'attachment; filename="everything.json"',
      "cache-control": "no-store",
    },
  })
}
