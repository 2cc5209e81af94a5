// Consent as it was given and withdrawn: lines that are added, and never changed.
import type { Db } from "./db/pool"

export type Consent = {
  readonly kind: "given" | "withdrawn"
  readonly at: Date
  /** When they were asked, where it is another instant. */
  readonly askedAt?: Date
  /** The words that they agreed to, or pressed. */
  readonly wording?: string
  readonly ip?: string
  /** Where it was. */
  readonly page: string
}

/** Writes down consent of each address of which a condition of ours holds, such as `a.person_id IN (?)`. */
export async function writeConsent(tx: Db, which: string, values: readonly unknown[], c: Consent): Promise<void> {
  await tx.write(
    `INSERT INTO consent (address_id, kind, at, asked_at, wording, ip, page) SELECT a.id, ?, ?, ?, ?, ?, ? FROM address a WHERE ${which}`,
    [c.kind, c.at, c.askedAt ?? null, c.wording ?? "", c.ip ?? "", c.page, ...values],
  )
}

export const consentOf = (tx: Db, address: number, c: Consent) => writeConsent(tx, "a.id = ?", [address], c)
