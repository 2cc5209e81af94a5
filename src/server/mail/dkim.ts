// The key that mail is signed with: made here, kept in a file that only the owner can read, and shown as the record that receivers
// look it up by.
import { createPublicKey, generateKeyPair } from "node:crypto"
import { Resolver } from "node:dns/promises"
import { chmod, mkdir, readFile, writeFile } from "node:fs/promises"
import { join } from "node:path"
import { promisify } from "node:util"
import * as v from "valibot"
import { type RecordState, recordState, type Wanted, wantedRecords } from "@/core/mail/records"
import { refusals } from "@/core/words/refusals"
import type { Config } from "../config"
import type { Context } from "../context"
import type { DkimKeys } from "../port/mailer"
import { ok, refusal, type Saved } from "../saved"

/** The names of the keys among others of the domain. */
const selectors = { rsa: "heron", ed25519: "heron-ed" } as const
type Algorithm = keyof typeof selectors

const fileOf = (config: Config, algorithm: Algorithm) => join(config.dataFolder, "dkim", `${selectors[algorithm]}.pem`)

const domainOf = (address: string) => address.split("@")[1]?.toLowerCase() ?? ""

type Known = { readonly madeAt: number; readonly rsa: string; readonly ed25519: string | null }
const known = new Map<string, Known>()

/** The keys to sign with, where some were made; they are read from their files once. */
export async function signingKeys(s: Context, sender: string): Promise<DkimKeys | undefined> {
  const row = await s.db.row<{ at: Date | null }>("SELECT dkim_made_at AS at FROM school WHERE id = 1")
  const domainName = domainOf(sender)
  if (!row?.at || !domainName) return undefined
  const file = fileOf(s.config, "rsa")
  let keys = known.get(file)
  if (keys?.madeAt !== row.at.getTime()) {
    const rsa = await readFile(file, "utf8").catch(() => null)
    if (rsa === null) return undefined
    // Keys from before were of RSA alone.
    const ed25519 = await readFile(fileOf(s.config, "ed25519"), "utf8").catch(() => null)
    keys = { madeAt: row.at.getTime(), rsa, ed25519 }
    known.set(file, keys)
  }
  return {
    rsa: { domainName, keySelector: selectors.rsa, privateKey: keys.rsa },
    ed25519: keys.ed25519 === null ? null : { domainName, keySelector: selectors.ed25519, privateKey: keys.ed25519 },
  }
}

/** Makes new keys (RSA of 2048 bits: RFC 8301; Ed25519: RFC 8463) in place of those before. Their records must be set anew. */
export async function makeSigningKey(s: Context): Promise<Saved> {
  const rsa = await promisify(generateKeyPair)("rsa", { modulusLength: 2048 })
  const ed25519 = await promisify(generateKeyPair)("ed25519")
  await mkdir(join(s.config.dataFolder, "dkim"), { recursive: true, mode: 0o700 })
  for (const [algorithm, { privateKey }] of Object.entries({ rsa, ed25519 })) {
    const file = fileOf(s.config, algorithm as Algorithm)
    await writeFile(file, privateKey.export({ type: "pkcs8", format: "pem" }), { mode: 0o600 })
    await chmod(file, 0o600)
  }
  await s.db.write("UPDATE school SET dkim_made_at = ? WHERE id = 1", [new Date()])
  return ok
}

export async function saveInclude(s: Context, typed: unknown): Promise<Saved> {
  const rule = v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(200),
    v.check((t) => /^[A-Za-z0-9.:/_-]*$/.test(t), refusals.mail.include),
  )
  const read = v.safeParse(rule, typed)
  if (!read.success) return refusal(read.issues)
  await s.db.write("UPDATE school SET spf_include = ? WHERE id = 1", [read.output])
  return ok
}

export type Record = Wanted & { readonly state: RecordState; readonly found: readonly string[] }

export type Delivery = {
  readonly domain: string
  readonly signed: boolean
  readonly include: string
  readonly records: readonly Record[]
}

/** The records that the sender's domain wants, and what stands there now. */
export async function readDelivery(s: Context): Promise<Delivery> {
  const school = await s.db.row<{ email: string; made: Date | null; include: string }>(
    "SELECT sender_email AS email, dkim_made_at AS made, spf_include AS include FROM school WHERE id = 1",
  )
  const domain = domainOf(school?.email ?? "")
  const keys = await signingKeys(s, school?.email ?? "")
  const include = school?.include ?? ""
  if (!domain) return { domain: "", signed: false, include, records: [] }
  const wanted = wantedRecords(
    domain,
    (["rsa", "ed25519"] as const).flatMap((algorithm) => {
      const key = keys?.[algorithm]
      return key ? [{ selector: key.keySelector, algorithm, key: publicKeyOf(key.privateKey, algorithm) }] : []
    }),
    include,
  )
  return {
    domain,
    signed: keys !== undefined,
    include,
    records: await Promise.all(wanted.map((w) => look(s.config, w))),
  }
}

/** RFC 6376, 3.6.1 has RSA keys as SubjectPublicKeyInfo; RFC 8463, 4.2 those of Ed25519 as their 32 bytes alone. */
function publicKeyOf(privateKey: string, algorithm: Algorithm): string {
  const der = createPublicKey(privateKey).export({ type: "spki", format: "der" })
  return (algorithm === "rsa" ? der : der.subarray(-32)).toString("base64")
}

async function look(config: Config, wanted: Wanted): Promise<Record> {
  const resolver = new Resolver({ timeout: 2000, tries: 2 })
  if (config.nameServer) resolver.setServers([config.nameServer])
  const found = await resolver.resolveTxt(wanted.name).then(
    (all) => all.map((parts) => parts.join("")),
    (error: { code?: string }) => (["ENOTFOUND", "ENODATA"].includes(error.code ?? "") ? [] : null),
  )
  return { ...wanted, state: recordState(wanted, found), found: found ?? [] }
}
