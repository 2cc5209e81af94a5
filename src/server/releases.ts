// The releases of one database, each read once: they never change.
import type { Funnel } from "@/core/funnel/draft"
import { readFunnel } from "@/core/funnel/read"
import type { CompiledPage } from "@/core/page/compile"
import type { Db } from "./db/pool"

export type Release = { readonly id: number; readonly funnel: Funnel; readonly pages: readonly CompiledPage[] }

/** How many are kept in memory. */
const most = 200

export class Releases {
  readonly #read = new Map<number, Promise<Release | undefined>>()

  byId(db: Db, id: number): Promise<Release | undefined> {
    const known = this.#read.get(id)
    if (known) return known
    const found = read(db, id).catch((error) => {
      this.#read.delete(id)
      throw error
    })
    if (this.#read.size >= most) this.#read.delete(this.#read.keys().next().value!)
    this.#read.set(id, found)
    // What isn't there may come to be.
    void found.then((r) => r === undefined && this.#read.delete(id)).catch(() => {})
    return found
  }

  /** Numbers of releases begin anew in an emptied database. */
  forget(): void {
    this.#read.clear()
  }
}

async function read(db: Db, id: number): Promise<Release | undefined> {
  const row = await db.row<{ snapshot: string; pages: string }>("SELECT snapshot, pages FROM `release` WHERE id = ?", [
    id,
  ])
  return row && { id, funnel: readFunnel(JSON.parse(row.snapshot)), pages: JSON.parse(row.pages) as CompiledPage[] }
}

/** A release by its number, in the database that is asked. */
export function releaseById(db: Db, id: number): Promise<Release | undefined> {
  return db.around.releases.byId(db, id)
}
