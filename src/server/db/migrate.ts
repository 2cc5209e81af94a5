// Brings a database up to the schema: the numbered files of db/migrations, each once, in order.
import { readdir, readFile } from "node:fs/promises"
import { join } from "node:path"
import type { Db } from "./pool"

/** Ms; it records no facts, so nothing waits for it. */
const longestMigration = 600_000

const folder = join(process.cwd(), "db", "migrations")

/**
 * Applies what is missing; gives the names of the files applied. One process at a time, by a lock of the server's: another
 * waits `patience` seconds for it, and throws where it hasn't come by then, since what it would find is half made.
 */
export async function migrate(db: Db, patience = 300): Promise<string[]> {
  await db.write(
    "CREATE TABLE IF NOT EXISTS migration (name VARCHAR(80) NOT NULL PRIMARY KEY, at DATETIME(3) NOT NULL) CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
  )
  return db.transaction(async (one) => {
    const lock = await one.row<{ ours: number | null }>(
      "SELECT GET_LOCK(CONCAT('heron-migrate-', DATABASE()), ?) AS ours",
      [patience],
    )
    if (lock?.ours !== 1) throw new Error("another process is bringing the database up to date; start again in a while")
    try {
      const done = new Set((await one.rows<{ name: string }>("SELECT name FROM migration")).map((r) => r.name))
      const files = (await readdir(folder)).filter((f) => f.endsWith(".sql")).sort()
      const applied: string[] = []
      for (const file of files.filter((f) => !done.has(f))) {
        const sql = await readFile(join(folder, file), "utf8")
        for (const statement of statementsOf(sql)) await one.write(statement)
        await one.write("INSERT INTO migration (name, at) VALUES (?, ?)", [file, new Date()])
        applied.push(file)
      }
      return applied
    } finally {
      await one.rows("SELECT RELEASE_LOCK(CONCAT('heron-migrate-', DATABASE()))")
    }
  }, longestMigration)
}

/** Our migrations keep to one rule: a statement ends with a semicolon at the end of a line. */
function statementsOf(sql: string): string[] {
  return sql
    .replace(/^--.*$/gm, "")
    .split(/;\s*$/m)
    .map((s) => s.trim())
    .filter(Boolean)
}
