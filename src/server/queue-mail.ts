// E-mails that are written down to be sent. What goes to many at once is written by one statement of its own, in the same columns.
import type { MailKind } from "@/core/mail/kind/list"
import type { Db } from "./db/pool"
import type { New } from "./db/row"

export type Queued = Omit<New<"mail">, "kind" | "try_at"> & { readonly kind: MailKind }

/** Puts e-mails in line, each once: what is there under its key stays as it is. */
export async function queueMail(tx: Db, mails: Queued | readonly Queued[]): Promise<void> {
  const all = [mails].flat() as readonly Queued[]
  await tx.insert(
    "mail",
    all.map((m) => ({ ...m, try_at: new Date(0) })),
    "ON DUPLICATE KEY UPDATE once = VALUES(once)",
  )
}
