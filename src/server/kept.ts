// What never changes once it is written, read once from one database: the latest asked for are kept in memory.
import type { Db } from "./db/pool"

/** How many are kept. */
const most = 200

export class Kept<T> {
  readonly #known = new Map<number, Promise<T | undefined>>()
  readonly #read: (db: Db, id: number) => Promise<T | undefined>

  constructor(read: (db: Db, id: number) => Promise<T | undefined>) {
    this.#read = read
  }

  byId(db: Db, id: number): Promise<T | undefined> {
    const known = this.#known.get(id)
    if (known) return known
    const found = this.#read(db, id).catch((error) => {
      this.#known.delete(id)
      throw error
    })
    if (this.#known.size >= most) this.#known.delete(this.#known.keys().next().value!)
    this.#known.set(id, found)
    // What isn't there may come to be.
    void found.then((r) => r === undefined && this.#known.delete(id)).catch(() => {})
    return found
  }

  /** Numbers begin anew in an emptied database. */
  forget(): void {
    this.#known.clear()
  }
}
