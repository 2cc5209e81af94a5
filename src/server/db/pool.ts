// The database as the use cases see it: rows out, rows in, and transactions that all commit or all do not.

import mysql, { type Pool, type PoolConnection, type ResultSetHeader, type RowDataPacket } from "mysql2/promise"
import type { Actor } from "@/core/person/actor"
import { newTxContext, type TxContext, type Wiring } from "../tx-context"
import type { New, Table } from "./row"

export type WriteResult = { readonly affected: number; readonly id: number }

/** What comes of a key that is there already: the row is left out, or what is written behind it in SQL. */
export type OrElse = "ignore" | `ON DUPLICATE KEY UPDATE ${string}`

export type Db = {
  /** Who acts, what is remembered of this database, and who listens. */
  readonly context: TxContext
  rows<T>(sql: string, values?: unknown[]): Promise<T[]>
  row<T>(sql: string, values?: unknown[]): Promise<T | undefined>
  write(sql: string, values?: unknown[]): Promise<WriteResult>
  /** Writes new rows, one or many of the same columns; of none nothing is written. */
  insert<T extends Table>(table: T, rows: New<T> | readonly New<T>[], or?: OrElse): Promise<WriteResult>
  /** Sets columns of the row that has a number. */
  update<T extends Table>(table: T, id: number, set: Partial<New<T>>): Promise<WriteResult>
  /**
   * Runs the work in one transaction; a deadlock is tried again, so the work must do nothing outside the database. One that
   * takes longer than `most` ms is taken back; what writes to the journal may not take longer than longestTransaction.
   */
  transaction<T>(work: (tx: Db) => Promise<T>, most?: number): Promise<T>
}

export type Database = Db & {
  /** Reads that all see the data as it was at one moment, however much is written meanwhile. It may not write; `most` as above. */
  snapshot<T>(work: (tx: Db) => Promise<T>, most: number): Promise<T>
  /** One connection of its own to the same database, which waits behind nothing; to be ended by itself. */
  apart(): Database
  /** The same database, for somebody who acts. */
  as(actor: Actor): Database
  end(): Promise<void>
}

/** For whoever only asks and writes rows, such as a migration: nothing listens, and no mail is written. */
const unwired: Wiring = {
  listeners: [],
  letters: {} as Wiring["letters"],
  sequences: { takeOn: async () => {}, afterMails: async () => {} },
}

/** No transaction that writes to the journal lives longer, so that lines older than twice this are all there (ms of real time). */
export const longestTransaction = 10_000

/**
 * Opens a pool on a `mysql://` address. Sessions speak UTC and are READ COMMITTED: with MariaDB's default level a claim
 * of due rows blocks inserting new ones. A statement that takes longer than `mostMs` is given up with its connection.
 */
export function openDatabase(url: string, connections = 12, mostMs = 60_000, wiring: Wiring = unwired): Database {
  const at = new URL(url)
  const pool = mysql.createPool({
    host: at.hostname,
    port: Number(at.port || 3306),
    user: decodeURIComponent(at.username),
    password: decodeURIComponent(at.password),
    database: at.pathname.slice(1),
    ...(at.searchParams.get("socket") ? { socketPath: at.searchParams.get("socket")! } : {}),
    connectionLimit: connections,
    timezone: "Z",
    charset: "utf8mb4_unicode_ci",
    // A value that should have been a number and came as an object must not turn into SQL of its own.
    stringifyObjects: true,
    // Sums are numbers, as counts are; all stay far below 2^53.
    decimalNumbers: true,
    connectTimeout: 5_000,
    enableKeepAlive: true,
  })
  pool.pool.on("connection", (connection) => {
    connection.query(
      "SET SESSION tx_isolation = 'READ-COMMITTED', SESSION time_zone = '+00:00', SESSION innodb_lock_wait_timeout = 8, SESSION sql_mode = 'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION', SESSION max_statement_time = ?",
      // What was given up here is given up there, soon after: otherwise it would run on, and others would pile up behind it.
      [mostMs / 1000 + 1],
    )
  })
  const database = (around: TxContext): Database => ({
    ...over(pooled(pool, mostMs), around),
    transaction: (work, most) => transaction(pool, around, mostMs, work, most),
    snapshot: (work, most) => transaction(pool, around, mostMs, work, most, oneMoment),
    apart: () => openDatabase(url, 1, mostMs, wiring),
    as: (actor) => database({ ...around, actor }),
    end: () => pool.end(),
  })
  return database(newTxContext(wiring))
}

type Ask = <R extends RowDataPacket[] | ResultSetHeader>(sql: string, values: unknown[]) => Promise<R>

/** A statement on one connection. One that was given up may still run: its connection is of no use any more. */
function asking(connection: PoolConnection, mostMs: number, broken: () => void): Ask {
  return async (sql, values) => {
    try {
      const [found] = await connection.query({ sql, values, timeout: mostMs })
      return found as never
    } catch (error) {
      if ((error as { code?: string }).code === "PROTOCOL_SEQUENCE_TIMEOUT") broken()
      throw withoutValues(error, sql)
    }
  }
}

/** Outside a transaction. A statement that was the victim of a deadlock has done nothing, and is tried again. */
function pooled(pool: Pool, mostMs: number): Ask {
  const once = onAnyConnection(pool, mostMs)
  return async (sql, values) => {
    for (let tries = 1; ; tries++)
      try {
        return await once(sql, values)
      } catch (error) {
        if (!isDeadlock(error) || tries >= 8) throw error
        await pauseAfter(tries)
      }
  }
}

function onAnyConnection(pool: Pool, mostMs: number): Ask {
  return async (sql, values) => {
    const connection = await pool.getConnection()
    let broken = false
    try {
      return await asking(connection, mostMs, () => {
        broken = true
      })(sql, values)
    } finally {
      if (broken) connection.destroy()
      else connection.release()
    }
  }
}

/** What the database says of a statement quotes its values, which are people's: kept out of every message and log. */
function withoutValues(error: unknown, sql: string): unknown {
  const e = error as Error & { code?: string; errno?: number; sql?: string; sqlMessage?: string }
  if (!(error instanceof Error) || e.sqlMessage === undefined) return error
  const said = e.message
  e.message = `${e.code} in: ${sql.replace(/\s+/g, " ").slice(0, 300)}`
  e.stack = e.stack?.replace(said, e.message)
  delete e.sql
  delete e.sqlMessage
  return e
}

function over(ask: Ask, around: TxContext): Omit<Db, "transaction"> {
  const rows = async <T>(sql: string, values: unknown[] = []) =>
    (await ask<RowDataPacket[]>(sql, values)) as unknown as T[]
  const write = async (sql: string, values: unknown[] = []) => {
    const done = await ask<ResultSetHeader>(sql, values)
    return { affected: done.affectedRows, id: done.insertId }
  }
  return {
    context: around,
    rows,
    row: async <T>(sql: string, values?: unknown[]) => (await rows<T>(sql, values))[0],
    write,
    update: async (table, id, set) => {
      const columns = Object.entries(set).filter(([, value]) => value !== undefined)
      return write(`UPDATE \`${table}\` SET ${columns.map(([c]) => `\`${c}\` = ?`).join(", ")} WHERE id = ?`, [
        ...columns.map(([, value]) => value),
        id,
      ])
    },
    insert: async (table, given, or) => {
      const all = (Array.isArray(given) ? given : [given]) as readonly Readonly<Record<string, unknown>>[]
      if (!all.length) return { affected: 0, id: 0 }
      const columns = Object.keys(all[0]!).filter((c) => all[0]![c] !== undefined)
      return write(
        `INSERT ${or === "ignore" ? "IGNORE " : ""}INTO \`${table}\` (${columns.map((c) => `\`${c}\``).join(", ")}) VALUES ? ${or && or !== "ignore" ? or : ""}`,
        [all.map((row) => columns.map((c) => row[c]))],
      )
    },
  }
}

async function oneMoment(connection: PoolConnection): Promise<void> {
  await connection.query("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
  await connection.query("START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY")
}

async function transaction<T>(
  pool: Pool,
  around: TxContext,
  mostMs: number,
  work: (tx: Db) => Promise<T>,
  most = longestTransaction,
  begin = (connection: PoolConnection) => connection.beginTransaction(),
): Promise<T> {
  for (let tries = 1; ; tries++) {
    const connection = await pool.getConnection()
    const began = Date.now()
    let broken = false
    try {
      await begin(connection)
      const ask = asking(connection, mostMs, () => {
        broken = true
      })
      const inner: Db = { ...over(ask, around), transaction: (w) => w(inner) }
      const result = await work(inner)
      if (Date.now() - began > most)
        throw Object.assign(new Error("a transaction took too long and was taken back"), { code: tookTooLong })
      await connection.commit()
      return result
    } catch (error) {
      if (!broken)
        await connection.rollback().catch(() => {
          broken = true
        })
      if (!isDeadlock(error) || tries >= 8) throw error
    } finally {
      if (broken) connection.destroy()
      else connection.release()
    }
    await pauseAfter(tries)
  }
}

const pauseAfter = (tries: number) => new Promise((r) => setTimeout(r, 5 * tries + Math.random() * 20))

function isDeadlock(error: unknown): boolean {
  return ["ER_LOCK_DEADLOCK", "ER_LOCK_WAIT_TIMEOUT", "ER_CHECKREAD"].includes((error as { code?: string }).code ?? "")
}

const tookTooLong = "HERON_TOOK_TOO_LONG"

/** Whether an error says that the database is not there or too slow, rather than that it refuses. */
export function isDatabaseDown(error: unknown): boolean {
  const code = (error as { code?: string } | null)?.code ?? ""
  return (
    [
      "ECONNREFUSED",
      "ECONNRESET",
      "EPIPE",
      "ENOENT",
      "ETIMEDOUT",
      "PROTOCOL_CONNECTION_LOST",
      "ER_SERVER_SHUTDOWN",
      "ER_CON_COUNT_ERROR",
      "ER_CONNECTION_KILLED",
      "PROTOCOL_SEQUENCE_TIMEOUT",
      tookTooLong,
    ].includes(code) ||
    /Can't add new command when connection is in closed state|connection closed/i.test(
      String((error as Error)?.message),
    )
  )
}

/** MariaDB gives sums and counts of big numbers as text; this is the one place that makes them numbers. */
export function number(value: unknown): number {
  return value === null || value === undefined ? 0 : Number(value)
}
