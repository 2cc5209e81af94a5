// The rows as MariaDB has them, written out as types: `npx vitest run --project server tests/server/rows.test.ts -u` after a migration.
import { afterAll, beforeAll, expect, it } from "vitest"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("rows")
})
afterAll(() => t.end())

type Column = {
  readonly inTable: string
  readonly name: string
  readonly type: string
  readonly nullable: "YES" | "NO"
  readonly standard: string | null
  readonly extra: string
}

function typeOf(c: Column): string {
  const kind = c.type.replace(/[( ].*/s, "")
  const plain =
    kind === "enum"
      ? c.type.slice(5, -1).replaceAll("'", '"').replaceAll(",", " | ")
      : c.type.startsWith("tinyint(1)")
        ? "0 | 1"
        : /int$|^decimal$|^double$|^float$/.test(kind)
          ? "number"
          : /^datetime$/.test(kind)
            ? "Date"
            : /binary$|blob$/.test(kind)
              ? "Buffer"
              : /char$|text$|^date$/.test(kind)
                ? "string"
                : undefined
  if (plain === undefined) throw new Error(`no type for ${c.inTable}.${c.name}: ${c.type}`)
  return c.nullable === "YES" ? `${plain} | null` : plain
}

/** Parts after one another, in lines of 120 characters at most. */
function wrapped(start: string, parts: readonly string[], end: string): string {
  const lines = [start]
  for (const part of parts) {
    if (lines.at(-1)!.length + part.length > 116) lines.push("     ")
    lines[lines.length - 1] += ` ${part}`
  }
  return `${lines.join("\n")}${end}`
}
const union = (names: readonly string[]) => names.map((n, i) => `${i ? "| " : ""}"${n}"`)

it("are what the migrations come to", async () => {
  const columns = await t.s.db.rows<Column>(
    `SELECT c.table_name AS inTable, c.column_name AS name, c.column_type AS type, c.is_nullable AS nullable, c.column_default AS standard, c.extra AS extra
     FROM information_schema.columns c JOIN information_schema.tables t USING (table_schema, table_name)
     WHERE c.table_schema = DATABASE() AND t.table_type = 'BASE TABLE' ORDER BY c.table_name, c.ordinal_position`,
  )
  const tables = [...new Set(columns.map((c) => c.inTable))].sort()
  const text = tables.map((name) => {
    const all = columns.filter((c) => c.inTable === name)
    const written = all.filter((c) => !/GENERATED/.test(c.extra))
    const open = written.filter((c) => c.standard !== null || c.nullable === "YES" || /auto_increment/.test(c.extra))
    const made = all.filter((c) => !written.includes(c))
    return [
      `  ${name}: {`,
      wrapped(
        "    row: {",
        all.map((c) => `${c.name}: ${typeOf(c)};`),
        " }",
      ),
      ...(open.length ? [wrapped("    open:", union(open.map((c) => c.name)), "")] : []),
      ...(made.length ? [wrapped("    made:", union(made.map((c) => c.name)), "")] : []),
      "  }",
    ].join("\n")
  })
  await expect(
    `// Made from the migrations by tests/server/rows.test.ts, which fails when this is stale; not to be written by hand.\n// What is open need not be given when a row is written; what is made comes from the database itself.\n\nexport type Tables = {\n${text.join("\n")}\n}\n`,
  ).toMatchFileSnapshot("../../src/server/db/tables.ts")
})
