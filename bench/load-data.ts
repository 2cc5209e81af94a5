// LOAD DATA LOCAL INFILE, the fastest way there is into the database: what ours is measured against.
import { Readable } from "node:stream"
import mysql from "mysql2/promise"
import type { Database } from "@/server/db/pool"

/** LOAD DATA LOCAL INFILE on a connection of its own; both give milliseconds. */
export async function loader(db: Database, url: string) {
  const at = new URL(url)
  const connection = await mysql.createConnection({
    host: at.hostname,
    port: Number(at.port),
    user: decodeURIComponent(at.username),
    password: decodeURIComponent(at.password),
    database: at.pathname.slice(1),
    flags: ["+LOCAL_FILES"],
  })
  const file = async (into: string, text: string, more = ""): Promise<number> => {
    const start = performance.now()
    const [table, columns] = into.split(/ (.*)/)
    await connection.query({
      sql: `LOAD DATA LOCAL INFILE 'rows' INTO TABLE ${table} CHARACTER SET utf8mb4 FIELDS TERMINATED BY ',' ${more} ${columns}`,
      infileStreamFactory: () => Readable.from([Buffer.from(text)]),
    })
    return performance.now() - start
  }
  return {
    file,
    /** What was written last to a table, as a file, into an empty copy of it with its triggers' work done by hand. */
    async copy(table: string, most = 100_000): Promise<number> {
      const columns = (
        await db.rows<{ name: string }>(
          "SELECT COLUMN_NAME AS name FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND EXTRA NOT LIKE '%GENERATED%'",
          [table],
        )
      ).map((c) => c.name)
      const key = columns.includes("id") ? "id" : "person_id"
      const cells = columns.map(
        (c) => `IF(\`${c}\` IS NULL, '\\\\N', IF('${c}' IN ('once', 'visitor'), HEX(\`${c}\`), \`${c}\`))`,
      )
      const rows = await db.rows<{ line: string }>(
        `SELECT CONCAT_WS('\t', ${cells.join(", ")}) AS line FROM ${table} ORDER BY ${key} DESC LIMIT ?`,
        [most],
      )
      await db.write(`CREATE TABLE copy_of_${table} LIKE ${table}`)
      const into = columns.map((c) => (["once", "visitor"].includes(c) ? `@${c}` : `\`${c}\``)).join(", ")
      const set = columns.filter((c) => ["once", "visitor"].includes(c)).map((c) => `${c} = UNHEX(@${c})`)
      const start = performance.now()
      await connection.query({
        sql: `LOAD DATA LOCAL INFILE 'rows' INTO TABLE copy_of_${table} CHARACTER SET utf8mb4 (${into})${set.length ? ` SET ${set.join(", ")}` : ""}`,
        infileStreamFactory: () => Readable.from(piecesOf(rows)),
      })
      const ms = performance.now() - start
      const n = await db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM copy_of_${table}`)
      if (Number(n?.n) !== rows.length) throw new Error(`${table}: ${n?.n} of ${rows.length} were loaded`)
      return ms
    },
    end: () => connection.end(),
  }
}

/** Lines as pieces that fit into a packet. */
function* piecesOf(rows: readonly { readonly line: string }[]): Generator<Buffer> {
  for (let i = 0; i < rows.length; i += 10_000)
    yield Buffer.from(
      rows
        .slice(i, i + 10_000)
        .map((r) => `${r.line}\n`)
        .join(""),
    )
}
