// Test orders: what was ordered while nothing but the stand-in charged cards. They stand in the ledger like any other, and are taken
// out, with everything that came of them, once a real processor is connected. The people stay.
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"
import type { Refused } from "../saved"

const tests = "(SELECT id FROM orders WHERE test = 1)"

export async function countTestOrders(db: Db): Promise<number> {
  return (await db.row<{ n: number }>("SELECT COUNT(*) AS n FROM orders WHERE test = 1"))?.n ?? 0
}

/** To be called inside a transaction. Gives how many there were, or why they can't be taken out. */
export async function removeTestOrders(tx: Db): Promise<number | Refused> {
  // With the mark held no line of the journal is summed meanwhile.
  const mark = await tx.row<{ fact_id: number }>("SELECT fact_id FROM rollup_mark WHERE name = 'journal' FOR UPDATE")
  const orders = (await tx.rows<{ id: number }>("SELECT id FROM orders WHERE test = 1 ORDER BY id FOR UPDATE")).length
  if (!orders) return 0
  const paid = await tx.row(
    `SELECT 1 FROM payout_line p JOIN commission c ON c.id = p.commission_id WHERE c.order_id IN ${tests} LIMIT 1`,
  )
  if (paid) return { refused: refusals.processor.inPayout }
  await uncount(tx, mark?.fact_id ?? 0)
  await forgetMoney(tx)
  await tx.write(`DELETE FROM fact WHERE kind IN ('bought', 'refunded', 'declined') AND subject_id IN ${tests}`)
  await tx.write(
    `DELETE FROM mail WHERE order_id IN ${tests} OR plan_id IN (SELECT id FROM plan WHERE order_id IN ${tests}) OR refund_id IN (SELECT f.id FROM refund f JOIN charge c ON c.id = f.charge_id WHERE c.order_id IN ${tests})`,
  )
  await tx.write(`DELETE FROM journal WHERE order_id IN ${tests}`)
  await tx.write(
    `DELETE FROM commission_unpaid WHERE commission_id IN (SELECT id FROM commission WHERE order_id IN ${tests})`,
  )
  for (const table of ["commission", "sale_sum", "sale_line", "sale"])
    await tx.write(`DELETE FROM ${table} WHERE order_id IN ${tests}`)
  await tx.write(`DELETE f FROM refund f JOIN charge c ON c.id = f.charge_id WHERE c.order_id IN ${tests}`)
  for (const table of ["charge", "plan", "answer", "lesson_done_unproved", "order_line"])
    await tx.write(`DELETE FROM ${table} WHERE order_id IN ${tests}`)
  await tx.write(`DELETE FROM admission WHERE order_id IN ${tests}`)
  // What followed an order before what it followed.
  await tx.write("DELETE FROM orders WHERE test = 1 AND first_id IS NOT NULL")
  await tx.write("DELETE FROM orders WHERE test = 1")
  return orders
}

/** Takes them out of what is counted: sold, coupons, plans, learners, and the sums of the journal. */
async function uncount(tx: Db, summed: number): Promise<void> {
  await tx.write("UPDATE orders SET state = 'lapsed' WHERE test = 1 AND state IN ('paid', 'refunded')")
  await tx.write(
    `INSERT INTO tally_change (what, about, part, n, money) SELECT 'plans', 0, state, -COUNT(*), 0 FROM plan WHERE order_id IN ${tests} GROUP BY state`,
  )
  await tx.write(
    `INSERT INTO tally_change (what, about, part, n, money)
     SELECT 'learners', a.course_id, '', -COUNT(DISTINCT a.person_id), 0 FROM admission a WHERE a.order_id IN ${tests} AND a.course_id IS NOT NULL
       AND NOT EXISTS (SELECT 1 FROM admission b WHERE b.person_id = a.person_id AND b.course_id = a.course_id AND (b.order_id IS NULL OR b.order_id NOT IN ${tests}))
     GROUP BY a.course_id`,
  )
  await tx.write(
    `INSERT INTO journal_day (account, currency, day, amount) SELECT account, currency, DATE(at), -SUM(amount) FROM journal WHERE order_id IN ${tests} AND id <= ? GROUP BY 1, 2, 3
     ON DUPLICATE KEY UPDATE amount = journal_day.amount + VALUES(amount)`,
    [summed],
  )
}

/** Journeys keep their way, and have paid nothing; the rivers they are in are summed anew. */
async function forgetMoney(tx: Db): Promise<void> {
  const mine = "SELECT DISTINCT funnel_id, visitor FROM orders WHERE test = 1 AND funnel_id IS NOT NULL"
  const funnels = [
    0,
    ...(
      await tx.rows<{ id: number }>(
        "SELECT DISTINCT funnel_id AS id FROM orders WHERE test = 1 AND funnel_id IS NOT NULL",
      )
    ).map((f) => f.id),
  ]
  await tx.write(
    `UPDATE journey j JOIN (${mine}) o ON o.funnel_id = j.funnel_id AND o.visitor = j.visitor SET j.paid = 0`,
  )
  await tx.write(
    `UPDATE fact f JOIN (${mine}) o ON o.funnel_id = f.funnel_id AND o.visitor = f.visitor SET f.money = 0 WHERE f.kind = 'arrived'`,
  )
  for (const table of ["river_flow", "river_day", "flow_change"])
    await tx.write(`DELETE FROM ${table} WHERE funnel_id IN (?)`, [funnels])
  await tx.write(
    `INSERT INTO flow_change (funnel_id, begun_at, step_id, from_step_id, outcome, via, source, money)
     SELECT funnel_id, begun_at, step_id, COALESCE(from_step_id, 0), COALESCE(outcome, ''), via, IF(via = 'source', source, ''), money FROM fact WHERE kind = 'arrived' AND funnel_id IN (?)`,
    [funnels],
  )
}
