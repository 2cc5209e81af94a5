// A school in a few numbers: who there is, what happened, what was paid, what is mailed. Two schools with the same digest
// have walked the same way.
import type { Db } from "@/server/db/pool"

const counts = {
  people: "SELECT COUNT(*) AS n, CRC32(GROUP_CONCAT(email ORDER BY id)) AS who FROM person",
  journeys:
    "SELECT j.funnel_id AS funnel, t.kind AS step, t.path, source, COUNT(*) AS n, SUM(paid) AS paid FROM journey j JOIN step t ON t.id = j.rest_step_id GROUP BY 1, 2, 3, 4",
  facts: "SELECT kind, COUNT(*) AS n, SUM(money) AS money, COUNT(DISTINCT person_id) AS people FROM fact GROUP BY 1",
  arrivals:
    "SELECT t.path, f.outcome, f.via, COUNT(*) AS n, SUM(f.money) AS money FROM fact f JOIN step t ON t.id = f.step_id WHERE f.kind = 'arrived' GROUP BY 1, 2, 3",
  orders: "SELECT state, COUNT(*) AS n, SUM(net) AS net, SUM(tax) AS tax, SUM(gross) AS gross FROM orders GROUP BY 1",
  plans: "SELECT state, COUNT(*) AS n, SUM(next_n) AS charges FROM plan GROUP BY 1",
  books: "SELECT account, COUNT(*) AS n, SUM(amount) AS amount FROM journal GROUP BY 1",
  mails:
    "SELECT kind, state, COUNT(*) AS n, CRC32(GROUP_CONCAT(subject ORDER BY to_email, due_at, subject)) AS subjects FROM mail GROUP BY 1, 2",
  admissions: "SELECT course_id AS course, COUNT(*) AS n, SUM(until_at IS NOT NULL) AS ended FROM admission GROUP BY 1",
  progress: "SELECT lesson_id AS lesson, COUNT(*) AS n FROM lesson_done GROUP BY 1",
  tags: "SELECT t.name, COUNT(*) AS n FROM person_tag p JOIN tag t ON t.id = p.tag_id GROUP BY 1",
} as const

/** Numbers as text, so that sums of any size compare. */
export async function digestOf(db: Db): Promise<Digest> {
  const digest: Digest = {}
  await db.transaction(async (tx) => {
    await tx.write("SET SESSION group_concat_max_len = 100000000")
    for (const [name, sql] of Object.entries(counts))
      digest[name] = (await tx.rows<Record<string, unknown>>(sql)).map((row) =>
        Object.fromEntries(Object.entries(row).map(([k, v]) => [k, v === null ? null : String(v)])),
      )
  })
  return sorted(digest)
}

type Digest = Record<string, Record<string, string | null>[]>

/** The same rows in the same order, whatever the database sorts by. */
export function sorted(digest: Digest): Digest {
  const key = (row: object) => JSON.stringify(Object.entries(row).sort(([a], [b]) => (a < b ? -1 : 1)))
  return Object.fromEntries(
    Object.entries(digest).map(([name, rows]) => [name, [...rows].sort((a, b) => (key(a) < key(b) ? -1 : 1))]),
  )
}
