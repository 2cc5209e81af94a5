// Whether the parts of an installation are well: what /healthz says, and Today when they aren't.

import type { Context } from "./context"
import { lateWork } from "./due-list"

export type Health = {
  readonly ok: boolean
  readonly database: string
  readonly worker: string
  readonly mail: string
  readonly due: string
}

/** A worker that hasn't shown itself for this long is taken for gone, ms of real time. */
const silence = 15_000

/** How long the database may take to say how things stand, ms. */
const patience = 1_500

/** How things stand, within two seconds: a database that doesn't answer by then is not reachable. */
export async function health(s: Context): Promise<Health> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<Health>((done) => {
    timer = setTimeout(() => done(away), patience)
  })
  try {
    return await Promise.race([asked(s), late])
  } finally {
    clearTimeout(timer)
  }
}

const away: Health = { ok: false, database: "not reachable", worker: "not known", mail: "not known", due: "not known" }

async function asked(s: Context): Promise<Health> {
  try {
    const workers = await s.db.row<{ n: number }>(
      "SELECT COUNT(*) AS n FROM heartbeat WHERE name LIKE 'worker%' AND beat_at > ?",
      [new Date(Date.now() - silence)],
    )
    const worker = (workers?.n ?? 0) > 0 ? "well" : "no worker is running"
    const mailRow = await s.db.row<{ beat_at: Date; note: string }>(
      "SELECT beat_at, note FROM heartbeat WHERE name = 'mail'",
    )
    const fresh = mailRow && Date.now() - mailRow.beat_at.getTime() < 4 * silence
    const mail = fresh ? mailRow.note : "not known: the worker has not asked the mail server"
    const late = await lateWork(s)
    const due = late.length ? `late: ${late.join(", ")}` : "well"
    return { ok: [worker, mail, due].every((part) => part === "well"), database: "well", worker, mail, due }
  } catch (error) {
    s.log.error(error)
    return away
  }
}
