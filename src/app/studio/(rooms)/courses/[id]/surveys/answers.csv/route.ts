import { studio } from "@/app/guard"
import { exportAnswers } from "@/server/course/survey"
import { idOf } from "../../../../asked"
import { csvResponse } from "../../../../ledger/csv"

/** The answers to one survey of a course, as CSV. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const s = await studio()
  const asked = new URL(request.url).searchParams
  const lesson = Number(asked.get("lesson")) || 0
  return csvResponse("answers", exportAnswers(s.db, idOf((await params).id), lesson, asked.get("block") ?? ""))
}
