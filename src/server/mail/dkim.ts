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
import type { DkimKey } from "../port/mailer"
import { ok, refusal, type Saved } from "../saved"
import type { Surroundings } from "../surroundings"

/** The name of the key among others of the domain. */
const selector = "heron"

const fileOf = (config: Config) => join(config.dataFolder, "dkim", `${selector}.pem`)

const domainOf = (address: string) => address.split("@")[1]?.toLowerCase() ?? ""

const known = new Map<string, { readonly madeAt: number; readonly privateKey: string }>()

/** The key to sign with, where one was made; it is read from its file once. */
export async function signingKey(s: Surroundings, sender: string): Promise<DkimKey | undefined> {
  const row = await s.db.row<{ at: Date | null }>("SELECT dkim_made_at AS at FROM school WHERE id = 1")
  const domain = domainOf(sender)
  if (!row?.at || !domain) return undefined
  const file = fileOf(s.config)
  let key = known.get(file)
  if (key?.madeAt !== row.at.getTime()) {
    const privateKey = await readFile(file, "utf8").catch(() => null)
    if (privateKey === null) return undefined
    key = { madeAt: row.at.getTime(), privateKey }
    known.set(file, key)
  }
  return { domainName: domain, keySelector: selector, privateKey: key.privateKey }
}

/** Makes a new key (RSA, 2048 bits: RFC 8301) in place of the one before. Its record must be set anew. */
export async function makeSigningKey(s: Surroundings): Promise<Saved> {
  const { privateKey } = await promisify(generateKeyPair)("rsa", {
    modulusLength: 2048,
    publicKeyEncoding: { type: "spki", format: "pem" },
    privateKeyEncoding: { type: "pkcs8", format: "pem" },
  })
  const file = fileOf(s.config)
  await mkdir(join(s.config.dataFolder, "dkim"), { recursive: true, mode: 0o700 })
  await writeFile(file, privateKey, { mode: 0o600 })
  await chmod(file, 0o600)
  await s.db.write("UPDATE school SET dkim_made_at = ? WHERE id = 1", [new Date()])
  return ok
}

export async function saveInclude(s: Surroundings, typed: unknown): Promise<Saved> {
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
export async function readDelivery(s: Surroundings): Promise<Delivery> {
  const school = await s.db.row<{ email: string; made: Date | null; include: string }>(
    "SELECT sender_email AS email, dkim_made_at AS made, spf_include AS include FROM school WHERE id = 1",
  )
  const domain = domainOf(school?.email ?? "")
  const key = await signingKey(s, school?.email ?? "")
  const include = school?.include ?? ""
  if (!domain) return { domain: "", signed: false, include, records: [] }
  const wanted = wantedRecords(
    domain,
    key ? [{ selector, algorithm: "rsa", key: publicKeyOf(key.privateKey) }] : [],
    include,
  )
  return {
    domain,
    signed: key !== undefined,
    include,
    records: await Promise.all(wanted.map((w) => look(s.config, w))),
  }
}

function publicKeyOf(privateKey: string): string {
  return createPublicKey(privateKey).export({ type: "spki", format: "der" }).toString("base64")
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
