// Questions about people at the size of a large school: a million people, and twenty million things that happened to them. Then a
// million more from a file, against LOAD DATA of the rows they come to.
import { createHash } from "node:crypto"
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs"
import { join } from "node:path"
import pino from "pino"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { nobody } from "@/core/person/actor"
import type { Segment } from "@/core/person/segment/segment"
import { words } from "@/core/words/en"
import { configFromEnvironment } from "@/server/config"
import type { Context } from "@/server/context"
import { migrate } from "@/server/db/migrate"
import { type Database, openDatabase } from "@/server/db/pool"
import { wiring } from "@/server/listeners"
import { countIn, countSoon, firstOf } from "@/server/person/count"
import { fromFile } from "./from-file"
import { type Line, median } from "./report"
import { timed } from "./yardstick"

const people = 1_000_000
const facts = 20_000_000

/** Made once and kept for the next runs, since it takes most of an hour; made anew where the schema or what fills it has changed. */
export async function benchSegments(): Promise<Line[]> {
  const folder = ".test/bench-million"
  const stamp = join(folder, "made-of")
  const madeOf = createHash("sha256")
  for (const f of readdirSync("db/migrations").sort()) madeOf.update(readFileSync(join("db/migrations", f)))
  const now = madeOf.update(readFileSync("bench/segments.ts")).digest("hex")
  const kept = existsSync(stamp) && readFileSync(stamp, "utf8") === now
  if (!kept) rmSync(folder, { recursive: true, force: true })
  return inOwnDatabase(folder, async (s) => {
    if (!kept) await fill(s.db)
    writeFileSync(stamp, now)
    return asked(s)
  })
}

/** The same million comes by a file into an empty school, triggers and all. */
export function benchImport(folder: string): Promise<Line[]> {
  return inOwnDatabase(folder, async (s, url) => {
    await school(s.db)
    return [await fromFile(s, url, people)]
  })
}

export async function inOwnDatabase<T>(
  folder: string,
  run: (s: Context & { db: Database }, url: string) => Promise<T>,
): Promise<T> {
  // What a database of this size would be given.
  process.env.HERON_DB_MEMORY ??= "6G"
  const mariadb = await startMariaDb(openInstallation(folder))
  const db = openDatabase(mariadb.url, 8, 3_600_000, wiring)
  try {
    await migrate(db)
    return await run(
      {
        db,
        config: configFromEnvironment({
          ...process.env,
          HERON_DATA: folder,
          HERON_MODE: "test",
          HERON_SECRET: "bench",
        }),
        clock: { now: async () => Date.now() },
        cards: null,
        meeting: null,
        mailer: { send: async () => {}, server: "", verify: async () => null, close: () => {} },
        log: pino({ level: "error" }),
        actor: nobody,
        releases: db.context.releases,
        words,
      },
      mariadb.url,
    )
  } finally {
    await db.end()
    await mariadb.stop()
  }
}

export const school = (db: Database) =>
  db.write(
    "INSERT INTO school (id, name, sender_name, sender_email, postal_address, zone, look, currency) VALUES (1, 'S', 'S', 's@s.example', 'x', 'Europe/Oslo', 'harvest', 'EUR')",
  )

/** Spread over two years; a fifth of all tagged, a tenth have bought, and everybody has twenty facts, of which three are links followed. */
async function fill(db: Database): Promise<void> {
  const now = new Date()
  await school(db)
  await db.write("INSERT INTO tag (id, name) VALUES (1, 'keen')")
  // Without triggers and foreign keys: it is filled once, by no code of ours.
  const one = async (sql: string, values: unknown[] = []) =>
    db.transaction(async (tx) => {
      await tx.write("SET SESSION foreign_key_checks = 0")
      await tx.write("SET SESSION unique_checks = 0")
      await tx.write(sql, values)
      await tx.write("SET SESSION foreign_key_checks = 1")
      await tx.write("SET SESSION unique_checks = 1")
    }, 3_600_000)
  const die = (what: string, column = "seq") => `CRC32(CONCAT('${what}', ${column}))`
  for (const { name } of await db.rows<{ name: string }>(
    "SELECT trigger_name AS name FROM information_schema.triggers WHERE trigger_schema = DATABASE()",
  ))
    await db.write(`DROP TRIGGER ${name}`)
  await one(
    `INSERT INTO person (id, name, email, zone, joined_at, source, searched) SELECT seq, 'Ines', CONCAT('p', seq, '@post.example'),
       ELT(1 + seq MOD 4, 'Europe/Oslo', 'America/Lima', 'Asia/Kathmandu', 'Australia/Sydney'), ? - INTERVAL ${die("joined")} MOD 63072000 SECOND, ELT(1 + seq MOD 3, 'letter', 'direct', 'podcast'), ''
     FROM seq_1_to_${people}`,
    [now],
  )
  await one(
    `INSERT INTO address (id, person_id, email, canonical, confirmed_at, suppressed) SELECT id, id, email, email, joined_at, IF(${die("left", "id")} MOD 20 = 0, 'left', NULL) FROM person`,
  )
  await one(
    `INSERT INTO person_tag (person_id, tag_id, at, joined_at) SELECT id, 1, joined_at, joined_at FROM person WHERE ${die("keen", "id")} MOD 5 = 0`,
  )
  await one(
    `INSERT INTO orders (id, code, once, state, step_id, visitor, person_id, canonical, email, name, zone, currency, net, tax, gross, sentence, made_at, paid_at, hold_until)
     SELECT id, LPAD(id, 22, '0'), id, 'paid', 1, UNHEX(LPAD(HEX(id), 32, '0')), id, email, email, '', 'UTC', 'EUR', 1, 0, 1, '', joined_at, joined_at, joined_at FROM person WHERE ${die("bought", "id")} MOD 10 = 0`,
  )
  await one(
    "INSERT INTO order_line (order_id, offer_id, role, name, plan, gross) SELECT id, 1, 'main', '', '{}', 1 FROM orders",
  )
  for (let n = 0; n < facts / people; n++)
    await one(
      `INSERT INTO fact (at, recorded_at, kind, person_id, subject_id) SELECT joined_at + INTERVAL FLOOR(TIMESTAMPDIFF(SECOND, joined_at, ?) * (${die(`fact${n}`, "id")} MOD 10000) / 10000) SECOND, ?, ELT(1 + ${n} MOD 7, 'mailed', 'clicked', 'lesson-opened', 'opened', 'mailed', 'lesson-done', 'tagged'), id, ${n} FROM person`,
      [now, now],
    )
  await db.rows("ANALYZE TABLE person, address, person_tag, orders, order_line, fact")
}

const questions: readonly (readonly [string, Segment])[] = [
  [
    "joined this month, keen, reached, nothing bought, no link followed",
    {
      match: "all",
      parts: [
        { kind: "joined", within: true, days: 30 },
        { kind: "tag", tag: 1, has: true },
        { kind: "receives", is: true },
        { kind: "bought", offer: null, has: false, days: null },
        { kind: "clicked", has: false, days: 14 },
      ],
    },
  ],
  [
    "keen, reached, in one of two zones, a link followed lately, nothing bought",
    {
      match: "all",
      parts: [
        { kind: "tag", tag: 1, has: true },
        { kind: "receives", is: true },
        { kind: "zone", zone: "America/Lima", is: false },
        { kind: "clicked", has: true, days: 30 },
        { kind: "bought", offer: null, has: false, days: null },
      ],
    },
  ],
  [
    "most of them: reached, not keen, joined in two years, nothing bought, from a letter or not",
    {
      match: "all",
      parts: [
        { kind: "receives", is: true },
        { kind: "tag", tag: 1, has: false },
        { kind: "joined", within: true, days: 730 },
        { kind: "bought", offer: null, has: false, days: null },
        { kind: "source", source: "podcast", is: false },
      ],
    },
  ],
]

async function asked(s: Context): Promise<Line[]> {
  const lines: Line[] = []
  for (const [what, question] of questions) {
    const time = async (run: () => Promise<unknown>) => {
      const times: number[] = []
      for (let i = 0; i < 5; i++) {
        const began = performance.now()
        await run()
        times.push(performance.now() - began)
      }
      return median(times)
    }
    const { least, most } = await countSoon(s, question)
    lines.push({
      what: `what is shown first, of a million: ${what} (${least === most ? least : `${least} to ${most}`})`,
      ...timed(await time(() => countSoon(s, question)), 300, "query"),
    })
    lines.push({
      what: `  exactly (${await countIn(s, question)})`,
      ...timed(await time(() => countIn(s, question)), 300, "query"),
    })
    lines.push({
      what: "  the twenty of them who joined last",
      ...timed(await time(() => firstOf(s, question)), 100, "query"),
    })
  }
  return lines
}
