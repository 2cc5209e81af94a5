import { studio } from "@/app/guard"
import { exportCards } from "@/server/person/segment"
import { idOf } from "../../../../asked"
import { streamed } from "../../../../ledger/csv"

/** Everybody a segment finds, as cards of an address book. */
export async function GET(_: Request, { params }: { params: Promise<{ segment: string }> }): Promise<Response> {
  return streamed("people.vcf", "text/vcard", exportCards(await studio(), idOf((await params).segment)))
}
