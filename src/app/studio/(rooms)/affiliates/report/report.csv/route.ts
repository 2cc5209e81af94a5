import { studio } from "@/app/guard"
import { reportCsv } from "@/server/affiliate/report"
import { schoolZone } from "@/server/school-view"
import { csvResponse } from "../../../ledger/csv"
import { between } from "../../query"
import { reportKey } from "../keys"

export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked = Object.fromEntries(new URL(request.url).searchParams)
  return csvResponse("affiliates", reportCsv(s.db, reportKey(asked.by), between(asked, await schoolZone(s.db))))
}
