// Sales that count for affiliates, by the hundred thousand. What is earned is reckoned here in SQL, by whole numbers of its own, so
// that it can be held against what ours reckons from the same sales.
import { planOf } from "@/core/offer/plan"
import { keepPlan } from "@/core/offer/plan-document"
import { type Db, number } from "@/server/db/pool"

const part = 50_000
const year = 365 * 86_400
/** A fill isn't a journey of anybody: it may take its time, ms. */
const longest = 600_000
const rate = 3000

/** A thousand plans of different prices; to be called once. */
export async function layPlans(db: Db): Promise<void> {
  await db.write("CREATE TABLE bench_plan (n INT PRIMARY KEY, plan TEXT, net BIGINT, tax BIGINT, gross BIGINT)")
  await db.write("INSERT INTO bench_plan VALUES ?", [
    Array.from({ length: 1000 }, (_, n) => {
      const gross = 1_900 + n * 37
      const net = Math.round((gross * 10_000) / 12_500)
      const plan = planOf(
        { kind: "full", amount: gross },
        { currency: "EUR", tax: { rate: 2_500, included: true }, zone: "Europe/Oslo", start: 0 },
      )
      return [n, keepPlan(plan), net, gross - net, gross]
    }),
  ])
}

/** Adds affiliates with an account, each a person of their own; gives the number of the first. */
export async function addAffiliates(db: Db, n: number, offer: number): Promise<number> {
  const last = (await db.row<{ p: number; a: number }>(
    "SELECT (SELECT COALESCE(MAX(id), 0) FROM person) AS p, (SELECT COALESCE(MAX(id), 0) FROM affiliate) AS a",
  ))!
  const [p, a] = [last.p, last.a]
  await db.write(
    `INSERT INTO person (id, name, email, zone, joined_at) SELECT ? + seq, CONCAT('Affiliate ', seq), CONCAT('a', ? + seq, '@bench.example'), 'UTC', '2026-01-01' FROM seq_1_to_${n}`,
    [p, p],
  )
  await db.write(
    `INSERT INTO affiliate (id, person_id, state, code, public_name, asked_at, since, source, holder, iban)
     SELECT ? + seq, ? + seq, 'active', CONCAT('bench-', ? + seq), CONCAT('Affiliate ', seq), '2026-01-01', '2026-01-01', 'list', CONCAT('Affiliate ', seq), 'DE89370400440532013000' FROM seq_1_to_${n}`,
    [a, p, a],
  )
  await db.write(
    `INSERT INTO affiliate_in (affiliate_id, offer_id, agreed_version, agreed_at) SELECT ? + seq, ?, 1, '2026-01-01' FROM seq_1_to_${n}`,
    [a, offer],
  )
  return a + 1
}

/** Sells over the year that ends at an instant (ms), a tenth of it given back by a third. */
export async function sell(
  db: Db,
  o: {
    readonly n: number
    readonly first: number
    readonly affiliates: number
    readonly offer: number
    readonly until: number
  },
): Promise<void> {
  const terms = JSON.stringify({
    rates: [{ kind: "percent", value: rate }],
    charges: null,
    lessFees: false,
    second: 0,
  })
  for (let done = 0; done < o.n; done += part) {
    const n = Math.min(part, o.n - done)
    await db.transaction(async (tx) => {
      await tx.write("SET SESSION foreign_key_checks = 0")
      const { base } = (await tx.row<{ base: string }>(
        `SELECT GREATEST((SELECT COALESCE(MAX(id), 0) FROM orders), (SELECT COALESCE(MAX(id), 0) FROM order_line),
           (SELECT COALESCE(MAX(id), 0) FROM charge), (SELECT COALESCE(MAX(id), 0) FROM commission)) AS base`,
      ))!
      const b = number(base)
      const rows = `FROM seq_1_to_${n} JOIN bench_plan p ON p.n = seq % 1000`
      const at = `FROM_UNIXTIME(${Math.floor(o.until / 1000) - year} + FLOOR((${done} + seq) * ${year / o.n}))`
      const who = `${o.first} + (${done} + seq) % ${o.affiliates}`
      const third = "IF(seq % 10 = 0, FLOOR(p.gross / 3), 0)"
      await tx.write(
        `INSERT INTO orders (id, code, once, state, step_id, visitor, person_id, canonical, email, name, zone, currency, net, tax, gross, sentence, made_at, paid_at, hold_until)
         SELECT ${b} + seq, LPAD(${b} + seq, 22, 'b'), CONCAT('bench-', ${b} + seq), 'paid', 1, UNHEX(LPAD(HEX(${b} + seq), 32, '0')), NULL, 'b@bench.example', 'b@bench.example', 'B', 'UTC', 'EUR', p.net, p.tax, p.gross, '', ${at}, ${at}, ${at} ${rows}`,
      )
      await tx.write(
        `INSERT INTO order_line (id, order_id, offer_id, role, name, plan, gross) SELECT ${b} + seq, ${b} + seq, ${o.offer}, 'main', 'Bench', p.plan, p.gross ${rows}`,
      )
      await tx.write(
        `INSERT INTO charge (id, once, order_id, state, net, tax, gross, currency, refunded, at, settled_at, ask_at)
         SELECT ${b} + seq, CONCAT('bench-', ${b} + seq), ${b} + seq, 'succeeded', p.net, p.tax, p.gross, 'EUR', ${third}, ${at}, ${at}, ${at} ${rows}`,
      )
      await tx.write(
        `INSERT INTO sale (order_id, affiliate_id, at, sub, offer_id, connection, decision, place) SELECT ${b} + seq, ${who}, ${at}, ELT(1 + seq % 4, '', 'letter', 'podcast', 'stall'), ${o.offer}, CONCAT('192.0.2.', seq % 200), '{}', 1 ${rows}`,
      )
      await tx.write(
        `INSERT INTO sale_line (order_line_id, order_id, terms) SELECT ${b} + seq, ${b} + seq, ? ${rows}`,
        [terms],
      )
      const earned = `((p.net * ${rate} * 2 + 10000) DIV 20000)`
      await tx.write(
        `INSERT INTO commission (id, once, kind, affiliate_id, order_id, order_line_id, charge_id, base, rate, amount, currency, sub, at, due_at)
         SELECT ${b} + seq, CONCAT('bench:e:', ${b} + seq), 'earned', ${who}, ${b} + seq, ${b} + seq, ${b} + seq, p.net, '', ${earned}, 'EUR', ELT(1 + seq % 4, '', 'letter', 'podcast', 'stall'), ${at}, ${at} + INTERVAL 30 DAY ${rows}`,
      )
      await tx.write(
        `INSERT INTO commission (once, kind, affiliate_id, order_id, order_line_id, charge_id, earned_id, base, rate, amount, currency, sub, at, due_at)
         SELECT CONCAT('bench:b:', e.id), 'back', e.affiliate_id, e.order_id, e.order_line_id, e.charge_id, e.id, 0, '', -((2 * e.amount * c.refunded + c.gross) DIV (2 * c.gross)), 'EUR', e.sub, e.at, e.due_at
         FROM commission e JOIN charge c ON c.id = e.charge_id WHERE e.id > ? AND e.id <= ? AND c.refunded > 0`,
        [b, b + n],
      )
      await tx.write(
        `INSERT INTO commission_unpaid (commission_id, affiliate_id, currency, due_at, amount) SELECT id, affiliate_id, currency, due_at, amount FROM commission WHERE charge_id > ? AND charge_id <= ? ORDER BY id`,
        [b, b + n],
      )
      await tx.write(
        `INSERT INTO sale_sum (order_id, currency, affiliate_id, at, sub, offer_id, net, back, commission)
         SELECT c.id, 'EUR', s.affiliate_id, s.at, s.sub, s.offer_id, c.net, ROUND(c.net * c.refunded / c.gross), SUM(k.amount)
         FROM charge c JOIN sale s ON s.order_id = c.id JOIN commission k ON k.charge_id = c.id WHERE c.id > ? AND c.id <= ? GROUP BY c.id`,
        [b, b + n],
      )
      for (const [account, sign] of [
        ["commission", ""],
        ["affiliates", "-"],
      ] as const)
        await tx.write(
          `INSERT INTO journal (once, at, order_id, charge_id, account, amount, currency, recorded_at)
           SELECT CONCAT('commission:', id, ':${account}'), at, order_id, charge_id, '${account}', ${sign}amount, 'EUR', '2020-01-01' FROM commission WHERE charge_id > ? AND charge_id <= ?`,
          [b, b + n],
        )
      await tx.write("SET SESSION foreign_key_checks = 1")
    }, longest)
  }
}
