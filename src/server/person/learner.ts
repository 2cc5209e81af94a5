// Learners who sign in by a password, beside mailed links: the same door, the same answer whether the address is known.
import * as v from "valibot"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { passwordTrouble } from "@/core/person/password"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import { happen } from "../happen"
import { type Refused, refusal } from "../saved"
import { hashPassword, passwordRule, tryPassword, verifyPassword } from "./password"
import { beginSession, cameByMail, closeAccess, type Device, type Learner, letInBy, proveDevice } from "./session"

/** Signs a learner in by address and password; gives a session. */
export async function signInLearner(
  s: Context,
  input: { readonly email: string; readonly password: string; readonly ip: string },
  device: Device = {},
  realm: "learn" | "affiliate" = "learn",
): Promise<{ session: string } | Refused> {
  const key = parseAddress(input.email)?.canonical ?? "?"
  const person = await s.db.row<{ id: number; password_hash: string | null }>(
    "SELECT p.id, p.password_hash FROM address a JOIN person p ON p.id = a.person_id WHERE a.canonical = ?",
    [key],
  )
  const tried = await tryPassword(s.db, {
    name: `learn ${key}`,
    connection: connectionOf(input.ip),
    typed: input.password,
    hashed: person?.password_hash ?? null,
  })
  if (typeof tried === "object") return tried
  if (tried === "wrong" || !person) return { refused: refusals.account.wrongLearner, field: "password" }
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    await happen(tx, {
      kind: "signed-in",
      at,
      person: person.id,
      words: "password",
      ...(await letInBy(tx, device, person.id)),
    })
    return { session: await beginSession(tx, realm, person.id, { agent: device.agent }) }
  })
}

/** A learner steps over to the portal for affiliates, by one press. */
export async function stepOver(s: Context, who: Learner, device: Device): Promise<string> {
  return beginSession(s.db, "affiliate", who.person, { agent: device.agent })
}

const newPassword = v.object({ current: v.optional(v.string(), ""), next: passwordRule })

/**
 * Sets a learner's password: the first one, or another for whoever knows it or came by a link from the mailbox within the last
 * hour. Every other session ends, and every link that was mailed; gives a new token for this one.
 */
export async function setLearnerPassword(
  s: Context,
  who: Learner,
  device: Device,
  input: unknown,
): Promise<{ session: string } | Refused> {
  const read = v.safeParse(newPassword, input)
  if (!read.success) return refusal(read.issues)
  const { current, next } = read.output
  const person = await s.db.row<{ password_hash: string | null; email: string; name: string }>(
    "SELECT password_hash, email, name FROM person WHERE id = ?",
    [who.person],
  )
  if (!person) return { refused: refusals.gone.thing }
  if (passwordTrouble(next, [person.email, person.name]))
    return { refused: refusals.account.passwordCommon, field: "next" }
  if (person.password_hash !== null && !(await cameByMail(s.db, device.token ?? ""))) {
    if (!(await mayTry(s.db, `learn-password:${who.person}`, { most: 20, windowMs: 3_600_000 })))
      return { refused: refusals.account.tooManyLink }
    if (!(await verifyPassword(person.password_hash, current)))
      return { refused: refusals.account.current, field: "current" }
  }
  const hashed = await hashPassword(next)
  const now = await s.clock.now()
  return s.db.transaction(async (tx) => {
    await tx.update("person", who.person, { password_hash: hashed })
    await closeAccess(tx, who.person, now)
    await proveDevice(tx, device, who.person)
    return { session: await beginSession(tx, "learn", who.person, { agent: device.agent }) }
  })
}

export type LearnerAccount = {
  readonly name: string
  readonly email: string
  readonly hasPassword: boolean
  /** Whether pages may say their first name. */
  readonly nameShown: boolean
  /** Whether a new password needs no old one. */
  readonly byMail: boolean
}

export async function learnerAccount(s: Context, who: Learner, token: string): Promise<LearnerAccount | undefined> {
  const row = await s.db.row<{ name: string; email: string; has: number; shown: number }>(
    "SELECT name, email, password_hash IS NOT NULL AS has, name_shown_at IS NOT NULL AS shown FROM person WHERE id = ?",
    [who.person],
  )
  return (
    row && {
      name: row.name,
      email: row.email,
      hasPassword: Boolean(row.has),
      nameShown: Boolean(row.shown),
      byMail: await cameByMail(s.db, token),
    }
  )
}
