// The demo's rows many times over: each copy has people, visitors, orders and mails of its own, and happened when the first did.
import type { Db } from "@/server/db/pool"

/** What a column holds: a number that moves on with its table's copy, or a text or hash that must be another's. */
type Column = { readonly of: string } | "text" | "hash16" | "hash22" | "hash40" | "new"

const tables: Record<string, Record<string, Column>> = {
  person: { id: { of: "person" }, email: "text" },
  address: { id: { of: "address" }, person_id: { of: "person" }, email: "text", canonical: "text" },
  consent: { id: "new", address_id: { of: "address" } },
  person_tag: { person_id: { of: "person" } },
  card: { id: { of: "card" }, reference: "hash40" },
  orders: {
    id: { of: "orders" },
    code: "hash22",
    once: "hash40",
    first_id: { of: "orders" },
    visitor: "hash16",
    person_id: { of: "person" },
    canonical: "text",
    email: "text",
    card_id: { of: "card" },
  },
  order_line: { id: { of: "order_line" }, order_id: { of: "orders" } },
  plan: {
    id: { of: "plan" },
    order_line_id: { of: "order_line" },
    order_id: { of: "orders" },
    person_id: { of: "person" },
    card_id: { of: "card" },
  },
  charge: { id: { of: "charge" }, once: "hash40", order_id: { of: "orders" }, plan_id: { of: "plan" } },
  refund: { id: { of: "refund" }, once: "hash40", charge_id: { of: "charge" } },
  answer: { order_id: { of: "orders" } },
  journal: { id: "new", once: "hash40", order_id: { of: "orders" }, charge_id: { of: "charge" } },
  admission: { id: "new", person_id: { of: "person" }, order_id: { of: "orders" } },
  enrolment: { id: { of: "enrolment" }, person_id: { of: "person" } },
  mail: {
    id: { of: "mail" },
    once: "hash40",
    person_id: { of: "person" },
    to_email: "text",
    enrolment_id: { of: "enrolment" },
    order_id: { of: "orders" },
    plan_id: { of: "plan" },
    refund_id: { of: "refund" },
    way_in_id: "new",
    message_id: "new",
  },
  lesson_done: { person_id: { of: "person" } },
  lesson_seen: { person_id: { of: "person" } },
  journey: { visitor: "hash16", person_id: { of: "person" } },
  fact: { id: "new", once: "hash16", person_id: { of: "person" }, visitor: "hash16" },
}

/** Sums grow with what they are of; how far they go. */
const sums = ["tally", "river_flow", "river_day", "rest_quarter", "rest_day"]

/** The tables that are filled. */
export const filled = [...Object.keys(tables), ...sums]

/**
 * Adds so many copies of everything that is there, and multiplies the sums; nothing may wait to be summed. `round` sets the
 * copies' texts apart from those of an earlier time. Two connections share the work.
 */
export async function multiply(db: Db, copies: number, round: string): Promise<void> {
  // With the marks held, no worker sums the copies on its own.
  await db.transaction(async (tx) => {
    await tx.rows("SELECT * FROM rollup_mark FOR UPDATE")
    await copyAll(db, tx, copies, round)
  }, 900_000)
}

async function copyAll(db: Db, marks: Db, copies: number, round: string): Promise<void> {
  const most = new Map<string, number>()
  for (const [table, columns] of Object.entries(tables))
    if ("id" in columns && columns.id !== "new")
      most.set(table, (await db.row<{ n: number }>(`SELECT COALESCE(MAX(id), 0) AS n FROM ${table}`))!.n)
  const triggers = await db.rows<{ name: string; made: string }>(
    `SELECT trigger_name AS name, CONCAT('CREATE TRIGGER ', trigger_name, ' ', action_timing, ' ', event_manipulation, ' ON ', event_object_table, ' FOR EACH ROW ', action_statement) AS made
     FROM information_schema.triggers WHERE trigger_schema = DATABASE()`,
  )
  for (const t of triggers) await db.write(`DROP TRIGGER ${t.name}`)
  const copy = (names: readonly string[]) =>
    db.transaction(async (tx) => {
      await tx.write("SET SESSION foreign_key_checks = 0, unique_checks = 0")
      for (const table of names) await copyTable(tx, table, copies, round, most)
      await tx.write("SET SESSION foreign_key_checks = 1, unique_checks = 1")
    }, 900_000)
  await Promise.all([copy(["fact"]), copy(Object.keys(tables).filter((t) => t !== "fact"))])
  for (const t of triggers) await db.write(t.made)
  for (const table of sums) await db.write(`UPDATE ${table} SET n = n * ${copies + 1}, money = money * ${copies + 1}`)
  for (const table of ["source_quarter", "source_day"])
    await db.write(
      `UPDATE ${table} SET visited = visited * ${copies + 1}, joined = joined * ${copies + 1}, bought = bought * ${copies + 1}`,
    )
  // What each order brought is summed anew.
  for (const table of ["sold", "sold_order", "sold_quarter", "sold_day", "sold_group", "sold_first"])
    await db.write(`DELETE FROM ${table}`)
  await db.write("INSERT INTO sold_change (order_id) SELECT id FROM orders")
  await db.write(`UPDATE journal_day SET amount = amount * ${copies + 1}`)
  await db.write(`UPDATE kept_quarter SET kept = kept * ${copies + 1}`)
  await marks.write("UPDATE rollup_mark SET fact_id = (SELECT MAX(id) FROM journal) WHERE name = 'journal'")
}

/** Facts have no key that another table needs: theirs are made anew when the rows are there, which is faster by far. */
async function copyTable(
  tx: Db,
  table: string,
  copies: number,
  round: string,
  most: ReadonlyMap<string, number>,
): Promise<void> {
  const special = tables[table]!
  const columns = (
    await tx.rows<{ name: string }>(
      "SELECT column_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? AND is_generated = 'NEVER' ORDER BY ordinal_position",
      [table],
    )
  )
    .map((c) => c.name)
    .filter((c) => special[c] !== "new")
  const keys = table === "fact" ? await keysOf(tx, table) : []
  await tx.write(`CREATE TEMPORARY TABLE base_${table} AS SELECT * FROM ${table}`)
  if (keys.length) await tx.write(`ALTER TABLE ${table} ${keys.map((k) => `DROP KEY \`${k.name}\``).join(", ")}`)
  for (let k = 1; k <= copies; k++)
    await tx.write(
      `INSERT INTO ${table} (${columns.map((c) => `\`${c}\``).join(", ")}) SELECT ${columns.map((c) => copyOf(c, special[c], k, round, most)).join(", ")} FROM base_${table} b`,
    )
  if (keys.length) await tx.write(`ALTER TABLE ${table} ${keys.map((k) => `ADD ${k.made}`).join(", ")}`)
  await tx.write(`DROP TEMPORARY TABLE base_${table}`)
}

async function keysOf(tx: Db, table: string): Promise<{ name: string; made: string }[]> {
  const made = (await tx.row<Record<string, string>>(`SHOW CREATE TABLE ${table}`))!["Create Table"]!
  return [...made.matchAll(/^\s+((?:UNIQUE )?KEY `(\w+)` \([^)]*\)),?$/gm)].map((m) => ({ made: m[1]!, name: m[2]! }))
}

function copyOf(
  name: string,
  column: Column | undefined,
  k: number,
  round: string,
  most: ReadonlyMap<string, number>,
): string {
  const value = `b.\`${name}\``
  if (column === undefined) return value
  const hashed = `MD5(CONCAT(${value}, '.${round}${k}'))`
  switch (column) {
    case "text":
      return `CONCAT('${round}${k}.', ${value})`
    case "hash16":
      return `UNHEX(${hashed})`
    case "hash22":
      return `LEFT(${hashed}, 22)`
    case "hash40":
      return hashed
    case "new":
      return "NULL"
    default:
      return `${value} + ${k * most.get(column.of)!}`
  }
}
