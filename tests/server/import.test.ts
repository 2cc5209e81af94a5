// People from a file: read as it is written, each line once, also after a crash; taken back as a whole; and nobody who left or was
// erased is written to again.
import { readdir } from "node:fs/promises"
import { join } from "node:path"
import { Readable } from "node:stream"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Role } from "@/core/person/import"
import { countReaders } from "@/server/broadcast/plan"
import { doWhatIsDue, housekeeping } from "@/server/due-list"
import { keepImport, listImports, readImport, refusedLines, startImport, takeBackImport } from "@/server/person/import"
import { erasedKey } from "@/server/person/take-in"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
beforeAll(async () => {
  t = await testSchool("import")
  await openSchool(t)
})
afterAll(() => t.end())

const kept = async (text: string | Buffer, name = "people.csv") => {
  const done = await keepImport(t.s, name, Readable.from([Buffer.from(text)]))
  if ("refused" in done) throw new Error(done.refused)
  return done.id
}
const run = async (id: number, roles: Role[], more: { tags?: string[]; consent?: string } = {}) => {
  expect(await startImport(t.s, id, { roles, tags: more.tags ?? [], consent: more.consent ?? "" })).toEqual({
    ok: true,
  })
  await doWhatIsDue(t.s, "w")
  return (await readImport(t.s, id))!
}
const refused = async (id: number) => {
  const stream = await refusedLines(t.s, id)
  if (!stream) return ""
  const chunks: Buffer[] = []
  for await (const c of stream) chunks.push(c as Buffer)
  return Buffer.concat(chunks).toString()
}
const one = async (sql: string, values: unknown[] = []) =>
  Number(Object.values((await t.s.db.row<Record<string, number>>(sql, values))!)[0])
const tagsOf = (email: string) =>
  t.s.db.rows<{ name: string }>(
    "SELECT g.name FROM person p JOIN person_tag x ON x.person_id = p.id JOIN tag g ON g.id = x.tag_id WHERE p.email = ? ORDER BY g.name",
    [email],
  )

describe("a file", () => {
  it("is looked at: how it is written, what its columns are, and a secret that is never read", async () => {
    const id = await kept("\uFEFFE-Mail;Vorname;Passwort\r\na1@s.example;Ada;hunter2\r\n")
    const seen = (await readImport(t.s, id))!
    expect(seen).toMatchObject({
      reading: { encoding: "utf-8", delimiter: ";", head: true },
      head: ["E-Mail", "Vorname", "Passwort"],
      roles: ["email", "first-name", "skip"],
      secrets: { 2: "password" },
    })
    // Said to be the name all the same, it isn't read.
    const done = await run(id, ["email", "skip", "name"])
    expect(done).toMatchObject({ state: "done", fresh: 1 })
    expect(await t.s.db.row("SELECT name FROM person WHERE email = 'a1@s.example'")).toEqual({ name: "" })
  })

  it("makes each once, keeps who is known as they are, and tells why a line is refused", async () => {
    const id = await kept(
      'email,name,tags\nb1@s.example,"Bo, the ""jar""",x;y\nB1@S.example,again,\nnobody,N,\n,,z\nb2@s.example,=1+1,X\na1@s.example,Ada,y\n',
    )
    const done = await run(id, ["email", "name", "tags"], { tags: ["from a fair"], consent: "Yes, write to me" })
    expect(done).toMatchObject({ state: "done", linesDone: 6, fresh: 2, known: 1, refused: 3 })
    expect(await refused(id)).toBe(
      "stands in the file before,B1@S.example,again,\r\nnot an e-mail address,nobody,N,\r\nno e-mail address,,,z\r\n",
    )
    expect((await tagsOf("b1@s.example")).map((x) => x.name)).toEqual(["from a fair", "x", "y"])
    expect((await tagsOf("b2@s.example")).map((x) => x.name)).toEqual(["from a fair", "x"])
    expect(await t.s.db.row("SELECT name FROM person WHERE email = 'b1@s.example'")).toEqual({ name: 'Bo, the "jar"' })
    const all = { match: "all" as const, parts: [] }
    expect(await countReaders(t.s, { to: all, less: null })).toMatchObject({ total: 2 }) // those without consent aren't written to
  })

  it("never takes anybody back in who left or was erased", async () => {
    await t.s.db.write("UPDATE address SET suppressed = 'left' WHERE canonical = 'b1@s.example'")
    await t.s.db.write("INSERT INTO erased (canonical_hash, at) VALUES (?, NOW())", [
      erasedKey(t.s.config.secret, "gone@s.example"),
    ])
    const id = await kept("b1@s.example\ngone@s.example\n")
    expect(await run(id, ["email"], { consent: "yes" })).toMatchObject({ fresh: 0, known: 1, refused: 1 })
    expect(await t.s.db.row("SELECT suppressed FROM address WHERE canonical = 'b1@s.example'")).toEqual({
      suppressed: "left",
    })
    expect(await refused(id)).toContain("was erased")
    expect(await one("SELECT COUNT(*) FROM person WHERE email = 'gone@s.example'")).toBe(0)
  })

  it("comes in whole after a worker was killed in the middle", async () => {
    const lines = Array.from({ length: 2500 }, (_, i) => (i % 100 !== 50 ? `k${i}@s.example` : `bad ${i}`))
    const id = await kept(lines.join("\n"))
    expect(await startImport(t.s, id, { roles: ["email"], tags: [], consent: "" })).toEqual({ ok: true })
    const broken = { ...t.s, db: { ...t.s.db, transaction: failing(t.s.db.transaction, 2) } }
    await doWhatIsDue(broken as typeof t.s, "w").catch(() => {})
    expect((await readImport(t.s, id))!.state).toBe("stopped")
    await t.s.db.write("UPDATE person_import SET state = 'running', claimed_until = NULL WHERE id = ?", [id])
    await doWhatIsDue(t.s, "w")
    expect(await readImport(t.s, id)).toMatchObject({ state: "done", linesDone: 2500, fresh: 2475, refused: 25 })
    expect((await refused(id)).trim().split("\r\n")).toHaveLength(25)
    expect(await one("SELECT COUNT(*) FROM person WHERE email LIKE 'k%@s.example'")).toBe(2475)
  })

  it("is taken back as a whole within a week, without those who have bought since", async () => {
    const id = await kept("t1@s.example\nt2@s.example\nb2@s.example\n")
    await run(id, ["email"], { tags: ["taken"] })
    const buyer = (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = 't2@s.example'"))!.id
    await t.s.db.write(
      "INSERT INTO admission (person_id, course_id, origin, from_at) SELECT ?, id, 'hand:x', NOW() FROM course LIMIT 1",
      [buyer],
    )
    expect(await takeBackImport(t.s, id)).toEqual({ ok: true })
    expect(await one("SELECT COUNT(*) FROM person WHERE email = 't1@s.example'")).toBe(0)
    expect(await one("SELECT COUNT(*) FROM person WHERE email IN ('t2@s.example', 'b2@s.example')")).toBe(2)
    expect(await tagsOf("b2@s.example")).not.toContainEqual({ name: "taken" })
    expect(await takeBackImport(t.s, id)).toHaveProperty("refused")
    t.set(t.at() + 8 * 86_400_000)
    const [old] = (await listImports(t.s.db)).filter((i) => i.state === "done")
    expect(await takeBackImport(t.s, old!.id)).toHaveProperty("refused")
  })

  it("keeps no file longer than that", async () => {
    const [never, bad] = [await kept("f1@s.example\n"), await kept("f2@s.example\nnot one\n")]
    await run(bad, ["email"])
    await housekeeping(t.s)
    expect(await refused(bad)).toContain("not one")
    t.set(t.at() + 8 * 86_400_000)
    await housekeeping(t.s)
    expect(await refusedLines(t.s, bad)).toBeUndefined()
    expect(await readdir(join(t.s.config.dataFolder, "imports"))).toEqual([])
    expect(await readImport(t.s, never)).toBeUndefined()
    expect(await readImport(t.s, bad)).toMatchObject({ bytes: 0, fresh: 1, refused: 1, lines: [] })
  })

  it("is refused empty, cut off, without an address column, and twice at once", async () => {
    expect(await keepImport(t.s, "x", Readable.from([]))).toHaveProperty("refused")
    const cut = Readable.from(
      (async function* () {
        yield Buffer.from("a@s.example\n")
        throw new Error("cut")
      })(),
    )
    expect(await keepImport(t.s, "x", cut)).toHaveProperty("refused")
    const id = await kept("c1@s.example\n")
    expect(await startImport(t.s, id, { roles: ["name"], tags: [], consent: "" })).toHaveProperty("refused")
    const [a, b] = await Promise.all(
      [1, 2].map(() => startImport(t.s, id, { roles: ["email"], tags: [], consent: "" })),
    )
    expect([a, b].filter((x) => "ok" in x!)).toHaveLength(1)
    expect(await startImport(t.s, 9999, { roles: ["email"], tags: [], consent: "" })).toHaveProperty("refused")
  })

  it.each([
    ["UTF-16", Buffer.from("\uFEFFe1@s.example\tÉlodie\n", "utf16le"), "Élodie"],
    ["Windows-1252", Buffer.from("w1@s.example;Zo\xeb\n", "latin1"), "Zoë"],
  ])("in %s keeps its letters", async (_, bytes, name) => {
    const id = await kept(bytes)
    expect(await run(id, ["email", "name"])).toMatchObject({ fresh: 1 })
    expect(await one("SELECT COUNT(*) FROM person WHERE name = ?", [name])).toBe(1)
  })
})

/** Transactions that fail from the n-th on that writes people. */
function failing(of: typeof t.s.db.transaction, after: number): typeof t.s.db.transaction {
  let n = 0
  return ((work: Parameters<typeof of>[0], most?: number) => {
    if (most === 60_000 && ++n > after) throw new Error("killed")
    return of(work, most)
  }) as typeof of
}

it("a file with thousands of columns is refused at once, and isn't kept", async () => {
  const wide = `${Array.from({ length: 20_000 }, (_, i) => `c${i}`).join(",")}\n`
  expect(await keepImport(t.s, "wide.csv", Readable.from([Buffer.from(wide)]))).toEqual({
    refused: "That file has more than 200 columns. Leave out those that say nothing of people.",
  })
  expect(await t.s.db.rows("SELECT 1 FROM person_import WHERE name = 'wide.csv'")).toEqual([])
})
