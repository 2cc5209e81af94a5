// Where offers are sold: the steps of funnels that sell them, have them as an order bump, or show their price.
import type { Db } from "../db/pool"

export type SoldIn = {
  readonly offer: number
  readonly funnel: number
  readonly name: string
  readonly step: number
  readonly page: string
  /** What for, after the funnel's name: "sells it". */
  readonly use: string
}

/** Every place of a funnel where an offer is named, in the order of the funnels' names; at most 2,000. */
export async function soldIn(db: Db): Promise<SoldIn[]> {
  return db.rows<SoldIn>(
    `SELECT r.offer_id AS offer, f.id AS funnel, f.name, t.id AS step, t.name AS page, r.say AS \`use\`
     FROM reference r JOIN funnel f ON f.id = r.funnel_id JOIN step t ON t.id = r.step_id WHERE r.offer_id IS NOT NULL
     GROUP BY r.offer_id, t.id, r.say ORDER BY f.name, t.position LIMIT 2000`,
  )
}
