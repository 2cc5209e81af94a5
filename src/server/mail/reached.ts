// Looking somebody up who did or did not get something.
import { parseAddress } from "@/core/person/address"
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"
import type { Refused } from "../saved"

/** `mail`: the one that was written to them, whose own way says the rest; null: none was, and `says` why. */
export type Reached = { readonly person: number; readonly mail: number | null; readonly says: readonly string[] }

/** Somebody by any address of theirs. */
export async function personAt(
  db: Db,
  typed: string,
): Promise<{ readonly id: number; readonly joined: Date } | Refused> {
  const address = parseAddress(typed)
  if (!address) return { refused: refusals.value.emailCheck }
  const who = await db.row<{ id: number; joined: Date }>(
    "SELECT p.id, p.joined_at AS joined FROM address a JOIN person p ON p.id = a.person_id WHERE a.canonical = ?",
    [address.canonical],
  )
  return who ?? { refused: refusals.person.nobody }
}
