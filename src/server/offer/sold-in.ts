// Where offers are sold: the steps of funnels that sell them, have them as an order bump, or show their price.
import { allBlocks, readPage } from "@/core/page/document"
import type { Db } from "../db/pool"

export type SoldIn = {
  readonly offer: number
  readonly funnel: number
  readonly name: string
  readonly step: number
  readonly page: string
  readonly how: "sold" | "bump" | "shown"
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
    `SELECT f.id AS funnel, f.name, t.id AS step, t.name AS page, IF(t.kind IN ('checkout', 'further'), t.offer_id, NULL) AS offer, t.page AS document
     FROM step t JOIN funnel f ON f.id = t.funnel_id WHERE t.kind IN ('checkout', 'further') OR t.page LIKE '%"kind":"price"%' ORDER BY f.name, t.position LIMIT 2000`,
  )
  return rows.flatMap(({ document, offer, ...at }): SoldIn[] => {
    const blocks = document ? [...allBlocks(readPage(JSON.parse(document)).blocks)] : []
    const bumps = blocks.flatMap((b) => (b.kind === "checkout" ? b.bumps.map((x) => x.offer) : []))
    const shown = blocks.flatMap((b) => (b.kind === "price" && b.offer !== null ? [b.offer] : []))
    return [
      ...(offer === null ? [] : [{ ...at, offer, how: "sold" as const }]),
      ...bumps.map((o) => ({ ...at, offer: o, how: "bump" as const })),
      ...[...new Set(shown)].map((o) => ({ ...at, offer: o, how: "shown" as const })),
    ]
  })
}
