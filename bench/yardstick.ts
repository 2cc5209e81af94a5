// What times are measured by, taken in the same run: so a figure says something on any machine.
import { createHash } from "node:crypto"
import { closeSync, fsyncSync, openSync, rmSync, writeSync } from "node:fs"
import { join } from "node:path"
import mysql from "mysql2/promise"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { median } from "./report"

/** One of each, ms, on the machine on which the goals were set: what a goal in ms is divided by. */
const then = { loop: 2.7, query: 0.18, write: 0.15 } as const

export type Yardstick = keyof typeof then

export const yardstickWords: Readonly<Record<Yardstick, string>> = {
  loop: "bare loops (SHA-256 of a megabyte)",
  query: "bare queries (a row by its key, mysql2)",
  write: "bare writes (4 KB and fsync)",
}

let now: Readonly<Record<Yardstick, number>> = then

/** Takes them: each the median of many, ms. */
export async function takeYardsticks(folder: string): Promise<Readonly<Record<Yardstick, number>>> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const one = await mysql.createConnection(mariadb.url)
  try {
    await one.query("CREATE TABLE yard (id INT PRIMARY KEY, words VARCHAR(200))")
    await one.query("INSERT INTO yard SELECT seq, REPEAT('x', 200) FROM seq_1_to_1000")
    const megabyte = Buffer.alloc(1 << 20, 7)
    const file = join(folder, "yard")
    const fd = openSync(file, "w")
    now = {
      loop: await timesOf(200, async () => void createHash("sha256").update(megabyte).digest()),
      query: await timesOf(3_000, (i) => one.execute("SELECT id, words FROM yard WHERE id = ?", [1 + (i % 1000)])),
      write: await timesOf(200, async () => {
        writeSync(fd, megabyte, 0, 4_096)
        fsyncSync(fd)
      }),
    }
    closeSync(fd)
    rmSync(file)
    return now
  } finally {
    await one.end()
    await mariadb.stop()
  }
}

async function timesOf(n: number, work: (i: number) => Promise<unknown>): Promise<number> {
  const taken: number[] = []
  for (let i = 0; i < n; i++) {
    const began = performance.now()
    await work(i)
    taken.push(performance.now() - began)
  }
  return median(taken)
}

const round = (n: number) => (n < 10 ? n.toFixed(1) : Math.round(n).toLocaleString("en"))
const said = (ms: number) =>
  ms < 10_000 ? `${ms < 10 ? ms.toFixed(1) : ms.toFixed(0)} ms` : `${(ms / 1000).toFixed(1)} s`

/** A time as a line says it: how many yardsticks it took, and how many it may take; `under` is the goal in ms on the machine of then. */
export function timed(ms: number, under: number, by: Yardstick) {
  return {
    ours: said(ms),
    ratio: `${round(ms / now[by])} ${yardstickWords[by].split(" (")[0]}`,
    wanted: `at most ${round(under / then[by])}; ${said(under)} where one takes ${then[by]} ms`,
    missed: ms / now[by] > under / then[by],
  }
}
