// A learner changes the address: both mailboxes must say yes, the old one and the new one, within a day.

import { parseAddress } from "@/core/person/address"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { queueMail } from "../queue-mail"
import type { Refused, Saved } from "../saved"
import { sign, verify } from "../sign"
import { searchedText } from "./person"
import { closeAccess, type Learner } from "./session"
import { uniteWithin } from "./unite"
import { mayMailAddress } from "./way-in"

/** How long both have to press, ms of business time. */
const within = 86_400_000

export const sides = ["old", "new"] as const
/** Which mailbox. */
export type Side = (typeof sides)[number]

export type ChangeAsked = {
  readonly email: string
  readonly oldPressed: boolean
  readonly newPressed: boolean
}

type Row = {
  readonly id: number
  readonly person_id: number
  readonly email: string
  readonly canonical: string
  readonly old_email: string
  readonly expires_at: Date
  readonly old_pressed_at: Date | null
  readonly new_pressed_at: Date | null
  readonly done_at: Date | null
}

/** What a learner has asked for and is still to be pressed, or null. */
export async function changeAsked(s: Context, person: number): Promise<ChangeAsked | null> {
  const row = await s.db.row<Row>(
    "SELECT * FROM address_change WHERE person_id = ? AND done_at IS NULL AND expires_at > ? ORDER BY id DESC LIMIT 1",
    [person, new Date(await s.clock.now())],
  )
  return row
    ? { email: row.email, oldPressed: row.old_pressed_at !== null, newPressed: row.new_pressed_at !== null }
    : null
}

/** Asks both mailboxes. The answer is the same whether the new address is known here. */
export async function askAddressChange(s: Context, who: Learner, typed: string): Promise<Saved> {
  const address = parseAddress(typed)
  if (!address) return { refused: refusals.value.emailCheck, field: "email" }
  if (!(await mayTry(s.db, `address-change:${who.person}`, { most: 5, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooMany }
  const now = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const person = await tx.row<{ name: string; email: string }>(
      "SELECT name, email FROM person WHERE id = ? FOR UPDATE",
      [who.person],
    )
    if (!person) return { refused: refusals.gone.thing }
    if (parseAddress(person.email)?.canonical === address.canonical)
      return { refused: refusals.account.sameAddress, field: "email" }
    // One at a time: a new one takes the place of what was asked before.
    await tx.write("UPDATE address_change SET expires_at = ? WHERE person_id = ? AND done_at IS NULL", [
      new Date(now),
      who.person,
    ])
    const made = await tx.insert("address_change", {
      person_id: who.person,
      email: address.email,
      canonical: address.canonical,
      old_email: person.email,
      expires_at: new Date(now + within),
    })
    const queue = (side: Side, to: string) =>
      queueMail(tx, {
        once: `address:${made.id}:${side}`,
        kind: "address-change",
        person_id: who.person,
        to_email: to,
        to_name: side === "old" ? person.name : "",
        address_change_id: made.id,
        due_at: new Date(now),
      })
    await queue("old", person.email)
    // A stranger's mailbox is written to once in ten minutes, whoever types it.
    if (await mayMailAddress(tx, address.canonical, "address")) await queue("new", address.email)
    return { ok: true }
  })
}

export const changeLink = (config: Context["config"], change: number, side: Side) =>
  `${config.origin}/confirm-address/${sign(config.secret, "address", `${change}-${side}`)}`

/** The change and the mailbox of a link; null for one that isn't ours. */
export function readChangeLink(config: Context["config"], token: string): { id: number; side: Side } | null {
  const read = /^(\d{1,9})-(old|new)$/.exec(verify(config.secret, "address", token) ?? "")
  return read ? { id: Number(read[1]), side: read[2] as Side } : null
}

export type ChangeState = {
  readonly state: "open" | "over" | "done"
  readonly email: string
  readonly oldEmail: string
  /** Whether this mailbox has said yes. */
  readonly pressed: boolean
}

export async function changeState(s: Context, id: number, side: Side): Promise<ChangeState | undefined> {
  const row = await s.db.row<Row>("SELECT * FROM address_change WHERE id = ?", [id])
  if (!row) return undefined
  const over = row.expires_at.getTime() <= (await s.clock.now())
  return {
    state: row.done_at ? "done" : over ? "over" : "open",
    email: row.email,
    oldEmail: row.old_email,
    pressed: row[`${side}_pressed_at`] !== null,
  }
}

/**
 * A mailbox says yes. When both have, the address is changed; whoever is known here by the new one is the same person then, and
 * the two become one. Every device is signed out, and every link that was mailed before falls shut.
 */
export async function pressAddressChange(
  s: Context,
  id: number,
  side: Side,
): Promise<"half" | "done" | "over" | Refused> {
  const now = await s.clock.now()
  return s.db.transaction(async (tx) => {
    const row = await tx.row<Row>("SELECT * FROM address_change WHERE id = ? FOR UPDATE", [id])
    if (!row || row.done_at !== null || row.expires_at.getTime() <= now) return "over"
    await tx.write(`UPDATE address_change SET ${side}_pressed_at = COALESCE(${side}_pressed_at, ?) WHERE id = ?`, [
      new Date(now),
      id,
    ])
    if (row[`${side === "old" ? "new" : "old"}_pressed_at`] === null) return "half"
    // What this browser or that was shown is its owner's, and who that was isn't sure any more.
    await tx.write("UPDATE mention SET person_id = NULL WHERE person_id = ?", [row.person_id])
    await closeAccess(tx, row.person_id, now)
    const other = await tx.row<{ person_id: number }>("SELECT person_id FROM address WHERE canonical = ?", [
      row.canonical,
    ])
    if (other && other.person_id !== row.person_id) {
      const united = await uniteWithin(tx, row.person_id, other.person_id, now)
      if ("refused" in united) return united
      // Whoever holds the new mailbox is let in by it alone from now on: should they have been talked into saying yes,
      // whoever asked for it is out.
      await tx.update("person", row.person_id, { password_hash: null })
    }
    await change(tx, row, now)
    return "done"
  })
}

/** The address that was theirs becomes the new one, with what was agreed to under it. */
async function change(tx: Db, row: Row, now: number): Promise<void> {
  const open = await tx.write("UPDATE address_change SET done_at = ? WHERE id = ? AND done_at IS NULL", [
    new Date(now),
    row.id,
  ])
  if (!open.affected) return
  const person = await tx.row<{ name: string; email: string }>(
    "SELECT name, email FROM person WHERE id = ? FOR UPDATE",
    [row.person_id],
  )
  const known = await tx.row<{ id: number }>("SELECT id FROM address WHERE canonical = ? FOR UPDATE", [row.canonical])
  const old = await tx.row<{ id: number }>("SELECT id FROM address WHERE canonical = ? AND person_id = ? FOR UPDATE", [
    parseAddress(row.old_email)?.canonical ?? "",
    row.person_id,
  ])
  if (known && old) {
    await tx.write("UPDATE consent SET address_id = ? WHERE address_id = ?", [known.id, old.id])
    await tx.update("address", known.id, { confirmed_at: new Date(now) })
    await tx.write("DELETE FROM address WHERE id = ?", [old.id])
  } else if (old)
    // Whoever has left the e-mails has left them under the new address, too; what could not be reached can be again.
    await tx.write(
      "UPDATE address SET email = ?, canonical = ?, confirmed_at = ?, suppressed = IF(suppressed = 'left', 'left', NULL) WHERE id = ?",
      [row.email, row.canonical, new Date(now), old.id],
    )
  await tx.update("person", row.person_id, { email: row.email, searched: searchedText(person?.name ?? "", row.email) })
  await tx.write("UPDATE mail SET to_email = ? WHERE person_id = ? AND state = 'due' AND to_email = ?", [
    row.email,
    row.person_id,
    row.old_email,
  ])
  await happen(tx, {
    kind: "address-changed",
    at: now,
    person: row.person_id,
    words: `${row.old_email} to ${row.email}`,
  })
}
