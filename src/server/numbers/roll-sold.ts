// Money by journeys, summed by quarter-hour and by day of UTC: each order for the journey in which it was made, and for its buyer's first.
import { takeChanges } from "../changes"
import type { Db } from "../db/pool"

/** The journey in which an order was made: the last of its visitor that had begun by then. */
export const journeyOfOrder = `JOIN journey j ON j.funnel_id = o.funnel_id AND j.visitor = o.visitor
  AND j.run = (SELECT MAX(r.run) FROM journey r FORCE INDEX (PRIMARY) WHERE r.funnel_id = o.funnel_id AND r.visitor = o.visitor AND r.begun_at <= o.made_at)`

/** The first journey of a buyer. */
const firstJourney = `LEFT JOIN journey f ON f.person_id = o.person_id AND (f.funnel_id, f.visitor, f.run) =
  (SELECT i.funnel_id, i.visitor, i.run FROM journey i FORCE INDEX (person_id) WHERE i.person_id = o.person_id ORDER BY i.begun_at, i.funnel_id, i.visitor, i.run LIMIT 1)`

/** For which journey an order counts. */
export type Credit = "made" | "first"

/** After so many days it is looked at what those who joined together were worth. */
export const groupAges = [7, 30, 90] as const
const agesKept = groupAges.map((a) => `kept_${a}`).join(", ")

/** What is left of a sale, in lines of the journal; and the orders that count. */
const booked = "l.account IN ('income', 'refunds', 'fees', 'commission')"
const counted = "o.state IN ('paid', 'refunded') AND o.test = 0"

/**
 * What was booked of the lines `i` of orders `o`: a first charge is shared by the prices of what it was for; a later one is that of its plan.
 */
export const bookedOfLines = `JOIN charge c ON c.order_id = o.id LEFT JOIN plan p ON p.id = c.plan_id
  JOIN journal l ON l.charge_id = c.id AND l.account IN ('income', 'refunds', 'fees', 'commission')`
const part =
  "l.amount * IF(c.plan_id IS NULL, i.gross / NULLIF((SELECT SUM(g.gross) FROM order_line g WHERE g.order_id = o.id), 0), i.id = p.order_line_id)"
export const lineSums = `-SUM(IF(l.account IN ('income', 'refunds'), ${part}, 0)) AS income, -SUM(${part}) AS kept`

/** Takes what was booked into the sums; gives how many changes. An order is taken out as the sums have it, and put in as it is now. */
export async function rollSold(db: Db, batch = 5_000): Promise<number> {
  return takeChanges(db, "sold_change", batch, async (tx, ids) => {
    // One at a time: of two that meet the same order, the later must see what the earlier did.
    await tx.row("SELECT 1 FROM rollup_mark WHERE name = 'sold' FOR UPDATE")
    const changed = await tx.rows<{ id: number }>(
      "SELECT DISTINCT order_id AS id FROM sold_change WHERE id IN (?)",
      ids,
    )
    const orders = [changed.map((c) => c.id)]
    const buyers = await tx.rows<{ buyer: number }>(
      "SELECT buyer FROM sold WHERE order_id IN (?) UNION SELECT person_id FROM orders WHERE id IN (?) AND person_id IS NOT NULL",
      [...orders, ...orders],
    )
    const their = [[0, ...buyers.map((b) => b.buyer)]]
    await countFirst(tx, their, -1)
    await count(tx, orders, -1)
    await tx.write("DELETE FROM sold WHERE order_id IN (?)", orders)
    await tx.write(
      `INSERT INTO sold (order_id, currency, buyer, made_at, booked_at, joined, funnel_id, begun_at, source, device, first_funnel_id, first_begun_at, first_source, first_device, income, kept, ${agesKept})
       SELECT o.id, o.currency, COALESCE(o.person_id, -CAST(o.id AS SIGNED)), o.made_at, x.booked_at, DATE(p.joined_at), j.funnel_id, j.begun_at, j.source, j.device,
         COALESCE(f.funnel_id, j.funnel_id), COALESCE(f.begun_at, j.begun_at), COALESCE(f.source, j.source), COALESCE(f.device, j.device), x.income, x.kept, ${agesKept}
       FROM orders o STRAIGHT_${journeyOfOrder} ${firstJourney} LEFT JOIN person p ON p.id = o.person_id
       JOIN (SELECT l.order_id, l.currency, MAX(l.at) AS booked_at, -SUM(IF(l.account IN ('income', 'refunds'), l.amount, 0)) AS income, -SUM(l.amount) AS kept,
               ${groupAges.map((a) => `-SUM(IF(l.at < b.joined_at + INTERVAL ${a} DAY, l.amount, 0)) AS kept_${a}`).join(", ")}
             FROM journal l JOIN orders q ON q.id = l.order_id LEFT JOIN person b ON b.id = q.person_id
             WHERE l.order_id IN (?) AND ${booked} GROUP BY 1, 2) x ON x.order_id = o.id AND x.currency = o.currency
       WHERE o.id IN (?) AND o.first_id IS NULL AND ${counted}`,
      [...orders, ...orders],
    )
    await count(tx, orders, 1)
    await countFirst(tx, their, 1)
    await tx.write("DELETE FROM sold_order WHERE first_id IN (?)", orders)
    await tx.write(
      `INSERT INTO sold_order (order_id, first_id, funnel_id, step_id, begun_at, made_at, currency, kept)
       SELECT o.id, COALESCE(o.first_id, o.id), o.funnel_id, o.step_id, j.begun_at, o.made_at, x.currency, x.kept
       FROM (SELECT c.order_id, l.currency, -SUM(l.amount) AS kept FROM journal l JOIN charge c ON c.id = l.charge_id
             WHERE l.order_id IN (?) AND ${booked} GROUP BY 1, 2) x
       STRAIGHT_JOIN orders o ON o.id = x.order_id AND o.currency = x.currency STRAIGHT_${journeyOfOrder} WHERE ${counted}`,
      orders,
    )
    await tx.write("DELETE FROM sold_line WHERE first_id IN (?)", orders)
    await tx.write(
      `INSERT INTO sold_line (line_id, first_id, offer_id, buyer, funnel_id, begun_at, made_at, currency, booked_at, income, kept)
       SELECT i.id, s.order_id, i.offer_id, s.buyer, s.funnel_id, s.begun_at, o.made_at, s.currency, MAX(l.at), ${lineSums}
       FROM sold s JOIN sold_order q ON q.first_id = s.order_id JOIN orders o ON o.id = q.order_id JOIN order_line i ON i.order_id = o.id ${bookedOfLines}
       WHERE s.order_id IN (?) GROUP BY i.id`,
      orders,
    )
  })
}

/** Adds orders, as they stand in `sold`, to the sums, or takes them out. A buyer counts with the first of their orders that is put in. */
async function count(tx: Db, orders: unknown[], sign: 1 | -1): Promise<void> {
  for (const [table, span] of [
    ["sold_quarter", (at: string) => `FROM_UNIXTIME(FLOOR(UNIX_TIMESTAMP(${at}) / 900) * 900)`],
    ["sold_day", (at: string) => `DATE(${at})`],
  ] as const)
    for (const credit of ["made", "first"] satisfies Credit[]) {
      const of = credit === "first" ? "first_" : ""
      const once =
        credit === "first"
          ? "SUM(s.order_id = (SELECT MIN(b.order_id) FROM sold b WHERE b.buyer = s.buyer AND b.order_id IN (?)) AND NOT EXISTS (SELECT 1 FROM sold e WHERE e.buyer = s.buyer AND e.order_id NOT IN (?)))"
          : "0"
      await tx.write(
        `INSERT INTO ${table} (credit, currency, funnel_id, begun, source, device, orders, buyers, income, kept, squares)
         SELECT '${credit}', s.currency, s.${of}funnel_id, ${span(`s.${of}begun_at`)}, s.${of}source, s.${of}device,
           ${sign} * COUNT(*), ${sign} * ${once}, ${sign} * SUM(s.income), ${sign} * SUM(s.kept), ${sign} * SUM(CAST(s.kept AS DECIMAL(38, 0)) * s.kept)
         FROM sold s WHERE s.order_id IN (?) GROUP BY 2, 3, 4, 5, 6
         ON DUPLICATE KEY UPDATE ${["orders", "buyers", "income", "kept", "squares"].map((c) => `${c} = ${table}.${c} + VALUES(${c})`).join(", ")}`,
        credit === "first" ? [...orders, ...orders, ...orders] : orders,
      )
    }
  await tx.write(
    `INSERT INTO sold_group (joined, currency, kept, ${agesKept})
     SELECT s.joined, s.currency, ${["kept", ...groupAges.map((a) => `kept_${a}`)].map((k) => `${sign} * SUM(s.${k})`).join(", ")} FROM sold s
     WHERE s.order_id IN (?) AND s.joined IS NOT NULL GROUP BY 1, 2
     ON DUPLICATE KEY UPDATE ${["kept", ...groupAges.map((a) => `kept_${a}`)].map((k) => `${k} = sold_group.${k} + VALUES(${k})`).join(", ")}`,
    orders,
  )
}

/** Adds how long buyers took to buy, by their first orders as they stand in `sold`, or takes it out. */
async function countFirst(tx: Db, buyers: unknown[], sign: 1 | -1): Promise<void> {
  await tx.write(
    `INSERT INTO sold_first (joined, days, n)
     SELECT joined, GREATEST(0, DATEDIFF(made_at, joined)), ${sign} * COUNT(*) FROM (
       SELECT joined, made_at, ROW_NUMBER() OVER (PARTITION BY buyer ORDER BY made_at, order_id) AS place FROM sold WHERE buyer IN (?)) o
     WHERE place = 1 AND joined IS NOT NULL GROUP BY 1, 2
     ON DUPLICATE KEY UPDATE n = sold_first.n + VALUES(n)`,
    buyers,
  )
}
