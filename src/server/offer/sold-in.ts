// Where offers are sold: the steps of funnels that sell them, or have them as an order bump.
import { allBlocks, readPage } from "@/core/page/document"
import type { Db } from "../db/pool"

export type SoldIn = {
  readonly offer: number
  readonly funnel: number
  readonly name: string
  readonly step: number
  readonly page: string
}

/** Every place where an offer is sold, in the order of the funnels' names; at most 2,000 steps are looked at. */
export async function soldIn(db: Db): Promise<SoldIn[]> {
  const rows = await db.rows<{
    funnel: number
    name: string
    step: number
    page: string
    offer: number | null
    document: string | null
  }>(
    `SELECT f.id AS funnel, f.name, t.id AS step, t.name AS page, t.offer_id AS offer, IF(t.kind = 'checkout', t.page, NULL) AS document
     FROM step t JOIN funnel f ON f.id = t.funnel_id WHERE t.kind IN ('checkout', 'further') ORDER BY f.name, t.position LIMIT 2000`,
  )
  return rows.flatMap(({ document, offer, ...at }) => {
    const blocks = document ? [...allBlocks(readPage(JSON.parse(document)).blocks)] : []
    const bumps = blocks.flatMap((b) => (b.kind === "checkout" ? b.bumps.map((x) => x.offer) : []))
    return [...(offer === null ? [] : [offer]), ...bumps].map((o) => ({ ...at, offer: o }))
  })
}
