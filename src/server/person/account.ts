// The accounts of the studio: the owner's, made on the first visit, and signing in with it.
import { hash, verify } from "@node-rs/argon2"
import * as v from "valibot"
import { parseAddress } from "@/core/person/address"
import { mayTry } from "../attempt"
import type { Surroundings } from "../surroundings"
import { beginSession } from "./session"

export type Refusal = { readonly refused: string; readonly field?: string }

const newOwner = v.object({
  school: v.pipe(
    v.string(),
    v.trim(),
    v.nonEmpty("Give the school a name."),
    v.maxLength(120, "Keep it to 120 characters."),
  ),
  name: v.pipe(v.string(), v.trim(), v.nonEmpty("Your name, please."), v.maxLength(120, "Keep it to 120 characters.")),
  email: v.pipe(
    v.string(),
    v.check((e) => parseAddress(e) !== null, "That doesn't look like an e-mail address."),
  ),
  password: v.pipe(
    v.string(),
    v.minLength(10, "At least 10 characters, please: a sentence is good."),
    v.maxLength(200),
  ),
})

export async function hasOwner(s: Surroundings): Promise<boolean> {
  return (await s.db.row("SELECT 1 FROM account LIMIT 1")) !== undefined
}

/** Makes the school and its owner, once; gives a session. */
export async function makeOwner(s: Surroundings, input: unknown): Promise<{ session: string } | Refusal> {
  const read = v.safeParse(newOwner, input)
  if (!read.success) {
    const issue = read.issues[0]
    return { refused: issue.message, field: v.getDotPath(issue) ?? undefined }
  }
  const { school, name, email, password } = read.output
  const address = parseAddress(email)!
  const passwordHash = await hash(password)
  const now = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    // The school's one row is the lock: a second owner at the same moment is refused by its key.
    const made = await tx.write("INSERT IGNORE INTO school (id, name, sender_name, sender_email) VALUES (1, ?, ?, ?)", [
      school,
      `${name}, ${school}`.slice(0, 120),
      address.email,
    ])
    if (!made.affected) return { refused: "This school has an owner already. Sign in, please." }
    const account = await tx.write("INSERT INTO account (email, name, password_hash, made_at) VALUES (?, ?, ?, ?)", [
      address.canonical,
      name,
      passwordHash,
      now,
    ])
    return { session: await beginSession(tx, "studio", account.id) }
  })
}

/** The words are the same whether the account or the password is wrong. */
const wrong = "E-mail address and password don't fit together."
let decoy: Promise<string> | undefined

export async function signIn(
  s: Surroundings,
  input: { email: string; password: string; ip: string },
): Promise<{ session: string } | Refusal> {
  const address = parseAddress(input.email)
  const key = address?.canonical ?? "?"
  const within =
    (await mayTry(s.db, `studio:${key}`, { most: 10, windowMs: 900_000 })) &&
    (await mayTry(s.db, `studio-ip:${input.ip}`, { most: 60, windowMs: 900_000 }))
  if (!within) return { refused: "Too many tries. Please wait a quarter of an hour." }
  const account = await s.db.row<{ id: number; password_hash: string }>(
    "SELECT id, password_hash FROM account WHERE email = ?",
    [key],
  )
  decoy ??= hash("nobody has this password")
  const fits = await verify(account?.password_hash ?? (await decoy), input.password.slice(0, 200))
  if (!account || !fits) return { refused: wrong }
  return { session: await beginSession(s.db, "studio", account.id) }
}
