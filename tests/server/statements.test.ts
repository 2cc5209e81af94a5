// Every statement is known to MariaDB before anybody meets it: those written out as they stand are prepared, so that a table or a
// column that isn't there fails here. Those that are put together run in the tests of what uses them.
import { readdirSync, readFileSync } from "node:fs"
import mysql from "mysql2/promise"
import ts from "typescript"
import { afterAll, beforeAll, expect, it } from "vitest"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("statements")
})
afterAll(() => t.end())

/** A `?` that stands for more than one value, a part of a statement, and a table that is there while it is needed. */
const several = /VALUES \?|\) IN \(\?\)|\bbroadcast_reader\b/

type Statement = { readonly at: string; readonly sql: string }

/** Statements of a file that are one literal, where each `?` stands for one value. */
function statementsIn(file: string): Statement[] {
  const source = ts.createSourceFile(file, readFileSync(file, "utf8"), ts.ScriptTarget.Latest, true)
  const found: Statement[] = []
  const visit = (n: ts.Node): void => {
    const [first] = ts.isCallExpression(n) ? n.arguments : []
    if (first && ts.isStringLiteralLike(first) && /^\s*(SELECT|INSERT|UPDATE|DELETE)\s/.test(first.text)) {
      const line = source.getLineAndCharacterOfPosition(first.getStart()).line + 1
      if (!several.test(first.text)) found.push({ at: `${file}:${line}`, sql: first.text })
    }
    ts.forEachChild(n, visit)
  }
  visit(source)
  return found
}

it("has no table and no column that isn't there", async () => {
  const files = readdirSync("src", { recursive: true, encoding: "utf8" })
    .filter((f) => /\.tsx?$/.test(f) && !f.includes(".test."))
    .map((f) => `src/${f}`)
  const statements = files.flatMap(statementsIn)
  const at = new URL(t.s.config.databaseUrl)
  const connection = await mysql.createConnection({
    socketPath: at.searchParams.get("socket") ?? undefined,
    host: at.hostname,
    port: Number(at.port || 3306),
    user: decodeURIComponent(at.username),
    password: decodeURIComponent(at.password),
    database: at.pathname.slice(1),
  })
  const wrong: string[] = []
  for (const { at, sql } of statements)
    await connection.prepare(sql).then(
      (p) => p.close(),
      (error: Error) => wrong.push(`${at}: ${error.message}`),
    )
  await connection.end()
  expect(wrong).toEqual([])
  expect(statements.length).toBeGreaterThan(600)
})
