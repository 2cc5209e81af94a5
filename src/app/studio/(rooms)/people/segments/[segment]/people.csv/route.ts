import { studio } from "@/app/guard"
import { exportSegment } from "@/server/person/segment"
import { idOf } from "../../../../asked"
import { csvResponse } from "../../../../ledger/csv"

/** Everybody a segment finds, as CSV. */
export async function GET(_: Request, { params }: { params: Promise<{ segment: string }> }): Promise<Response> {
  return csvResponse("people", exportSegment(await studio(), idOf((await params).segment)))
}
