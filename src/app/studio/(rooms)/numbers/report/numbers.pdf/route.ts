import { comeAgain, unlessBusy } from "@/app/busy"
import { studio } from "@/app/guard"
import { reportFile, reportOf } from "@/server/numbers/report"
import { schoolZone } from "@/server/school-view"
import { type AskedNumbers, funnelOf, periodOf } from "../../query"

/** The report of a period as PDF. */
export async function GET(request: Request): Promise<Response> {
  const s = await studio()
  const asked: AskedNumbers = Object.fromEntries(new URL(request.url).searchParams)
  const period = periodOf(asked, await schoolZone(s.db), await s.clock.now())
  const file = await unlessBusy(reportFile(s.config, await reportOf(s, period, funnelOf(asked))))
  if (file === "busy") return comeAgain()
  return new Response(file.bytes as BodyInit, {
    headers: {
      "content-type": "application/pdf",
      "content-disposition": `attachment; filename="${file.name}"`,
      "cache-control": "no-store",
    },
  })
}
