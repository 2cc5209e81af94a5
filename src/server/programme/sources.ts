// What affiliates are called whose code stands where a journey came from.
import { codeOfSource } from "@/core/source"
import type { Db } from "../db/pool"

/** Names by code, of these sources only; also by codes of before. */
export async function namesOfSources(db: Db, sources: Iterable<string>): Promise<ReadonlyMap<string, string>> {
  const codes = [...new Set([...sources].flatMap((s) => codeOfSource(s) ?? []))]
  if (!codes.length) return new Map()
  const rows = await db.rows<{ code: string; name: string }>(
    `SELECT code, public_name AS name FROM affiliate WHERE code IN (?)
     UNION SELECT b.code, a.public_name FROM code_before b JOIN affiliate a ON a.id = b.affiliate_id WHERE b.code IN (?)`,
    [codes, codes],
  )
  return new Map(rows.map((r) => [r.code, r.name]))
}
