import { studio } from "@/app/guard"
import { exportMembers } from "@/server/course/members"
import { idOf } from "../../../../asked"
import { csvResponse } from "../../../../ledger/csv"
import { membersQuery } from "../query"

/** The members that fit, as CSV, a thousand at a time. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const s = await studio()
  const asked = Object.fromEntries(new URL(request.url).searchParams)
  return csvResponse("members", exportMembers(s, membersQuery(idOf((await params).id), asked)))
}
