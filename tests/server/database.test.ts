// What the database does when two want the same: a statement that was a deadlock's victim is tried again, and a schema is
// brought up to date by one process alone.
import { afterAll, beforeAll, expect, it } from "vitest"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("database")
})
afterAll(() => t.end())

it("tries a single statement again that lost in a deadlock", async () => {
  await t.s.db.write("CREATE TABLE spoon (id INT PRIMARY KEY, n INT NOT NULL, KEY (n))")
  await t.s.db.write("INSERT INTO spoon VALUES ?", [Array.from({ length: 300 }, (_, i) => [i, 0])])
  let sweep: Promise<unknown> | undefined
  await t.s.db.transaction(async (tx) => {
    // So much was written here that the other one is the victim.
    await tx.write("UPDATE spoon SET n = 1 WHERE id BETWEEN 1 AND 250")
    sweep ??= t.s.db.write("UPDATE spoon SET n = n + 10 WHERE id IN (260, 5) ORDER BY id DESC")
    await new Promise((r) => setTimeout(r, 300))
    await tx.write("UPDATE spoon SET n = 2 WHERE id = 260")
  })
  await sweep
  expect(await t.s.db.rows("SELECT id, n FROM spoon WHERE id IN (5, 260) ORDER BY id")).toEqual([
    { id: 5, n: 11 },
    { id: 260, n: 12 },
  ])
})

it("ends at the server too what was given up", async () => {
  const hasty = openDatabase(t.url, 1, 200)
  await expect(hasty.rows("SELECT BENCHMARK(100000000, SHA2('given up', 512))")).rejects.toThrow()
  const left = () =>
    t.s.db.rows("SELECT 1 FROM information_schema.processlist WHERE info LIKE 'SELECT BENCHMARK(%' AND db = DATABASE()")
  await expect.poll(left, { timeout: 5_000 }).toEqual([])
  await hasty.end()
})

it("never migrates beside another process that does", async () => {
  const other = openDatabase(t.url, 1)
  await other.transaction(async (tx) => {
    await tx.rows("SELECT GET_LOCK(CONCAT('heron-migrate-', DATABASE()), 0)")
    await expect(migrate(t.s.db, 0.1)).rejects.toThrow("another process")
    await tx.rows("SELECT RELEASE_LOCK(CONCAT('heron-migrate-', DATABASE()))")
  })
  await other.end()
  expect(await migrate(t.s.db)).toEqual([])
})
