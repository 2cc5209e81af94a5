// How affiliates come: by hand, by a list, by an invitation, by an effect, by a page of their own.
import Papa from "papaparse"
import * as v from "valibot"
import { programmeRuns } from "@/core/affiliate/programme"
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { parseName } from "@/core/person/name"
import { refusals } from "@/core/words/refusals"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { makePerson } from "../person/person"
import { mayMailAddress } from "../person/way-in"
import { type ProgrammeSet, programmeOf } from "../programme/programme"
import { id, type Refused, refusal } from "../saved"
import { schoolZone } from "../school-view"
import { sign, verifyId } from "../sign"
import { type Listener, oneByOne } from "../tx-context"
import { type AffiliateSource, affiliateOf, inviteAffiliate, joinProgramme, makeAffiliate, takePart } from "./affiliate"

/** An effect wants somebody invited, or somebody has sent the form of a sign-up page and confirmed it. */
export const inviteOnWish: Listener = {
  to: ["affiliate-wanted", "affiliate-applied"],
  hear: oneByOne(async (tx, h) => {
    const programme = h.person && h.subject ? await programmeOf(tx, h.subject) : undefined
    if (!h.person || !programme) return
    if (h.kind === "affiliate-applied")
      await joinProgramme(tx, {
        person: h.person,
        offer: programme.offer,
        version: h.data?.version ?? 0,
        source: "page",
        at: h.at,
      })
    else if (programmeRuns(programme, h.at))
      await inviteAffiliate(tx, { person: h.person, programme, source: "effect", at: h.at })
  }),
}

async function personBy(
  tx: Db,
  typed: { readonly email: string; readonly canonical: string; readonly name: string },
  at: number,
): Promise<number> {
  const known = await tx.row<{ person_id: number }>("SELECT person_id FROM address WHERE canonical = ? FOR UPDATE", [
    typed.canonical,
  ])
  if (known) return known.person_id
  const made = await makePerson(tx, { ...typed, zone: await schoolZone(tx), confirmed: false, source: "affiliate" }, at)
  return made.person
}

const byHand = v.object({
  email: v.pipe(v.string(), v.maxLength(320)),
  name: v.pipe(v.string(), v.maxLength(200)),
  offer: id,
  /** Whether they can begin at once, without having read the conditions. */
  atOnce: v.boolean(),
})

/** The school makes somebody an affiliate, or invites them. */
export async function addAffiliate(
  s: Context,
  typed: unknown,
  source: AffiliateSource = "hand",
): Promise<{ readonly ok: true; readonly id: number } | Refused> {
  const read = v.safeParse(byHand, typed)
  if (!read.success) return refusal(read.issues)
  const address = parseAddress(read.output.email)
  if (!address) return { refused: refusals.value.emailCheck, field: "email" }
  const name = parseName(read.output.name)
  if (name === null) return { refused: refusals.value.unreadable, field: "name" }
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<{ ok: true; id: number } | Refused> => {
    const programme = await programmeOf(tx, read.output.offer)
    if (!programme) return { refused: refusals.gone.thing }
    const person = await personBy(tx, { ...address, name }, at)
    const before = await affiliateOf(tx, person)
    if (read.output.atOnce) {
      const { id } = await makeAffiliate(tx, { person, source, state: "active", at, publicName: name })
      await takePart(tx, id, programme.offer, programme.conditionsVersion, at)
      return { ok: true, id }
    }
    const sent = await inviteAffiliate(tx, { person, programme, source, at })
    if (!sent && before?.state === "active") return { refused: refusals.affiliate.already, field: "email" }
    return { ok: true, id: (await affiliateOf(tx, person))!.id }
  })
}

export type ListTaken = {
  readonly taken: number
  readonly refused: readonly { readonly line: number; readonly says: string }[]
}

const longestList = 2_000

/** A list of affiliates as CSV with a header line: e-mail, and name where it is there. Each is invited. */
export async function addAffiliates(s: Context, offer: number, text: string): Promise<ListTaken | Refused> {
  const read = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, "").trim(), {
    header: true,
    skipEmptyLines: "greedy",
    transformHeader: (h) => h.trim().toLowerCase(),
  })
  const fields = read.meta.fields ?? []
  const email = fields.find((f) => /^e-?mail/.test(f))
  if (!email) return { refused: refusals.affiliate.listHeader }
  if (read.data.length > longestList) return { refused: refusals.value.most(longestList) }
  const name = fields.find((f) => f === "name" || f === "first name")
  const refused: { line: number; says: string }[] = []
  let taken = 0
  for (const [i, row] of read.data.entries()) {
    const done = await addAffiliate(
      s,
      { email: row[email] ?? "", name: name ? (row[name] ?? "") : "", offer, atOnce: false },
      "list",
    )
    if ("ok" in done) taken++
    else refused.push({ line: i + 2, says: done.refused })
  }
  return { taken, refused }
}

/** The address by which anybody who has it is invited to a programme. */
export const invitationPath = (s: Pick<Context, "config">, offer: number) =>
  `/affiliate/join/${sign(s.config.secret, "recommend", String(offer))}`

/** The programme that an invitation is for, while it runs. */
export async function invitedTo(s: Context, key: string): Promise<ProgrammeSet | undefined> {
  const offer = verifyId(s.config.secret, "recommend", key)
  const p = offer === null ? undefined : await programmeOf(s.db, offer)
  return p && programmeRuns(p, await s.clock.now()) ? p : undefined
}

const asking = v.object({ email: v.string(), name: v.string(), website: v.optional(v.string(), "") })

/** Somebody with an invitation gives their address, and is mailed the way to their page. The same answer for everybody. */
export async function acceptInvitation(
  s: Context,
  key: string,
  typed: unknown,
  ip: string,
): Promise<{ readonly ok: true } | Refused> {
  const programme = await invitedTo(s, key)
  if (!programme) return { refused: refusals.affiliate.programmeOff }
  const read = v.safeParse(asking, typed)
  if (!read.success) return refusal(read.issues)
  if (read.output.website) return { ok: true }
  const address = parseAddress(read.output.email)
  if (!address) return { refused: refusals.value.emailCheck, field: "email" }
  const name = parseName(read.output.name)
  if (name === null) return { refused: refusals.value.unreadable, field: "name" }
  if (!(await mayTry(s.db, `recommend:${connectionOf(ip)}`, { most: 30, windowMs: 3_600_000 })))
    return { refused: refusals.account.tooManyHere }
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (!(await mayMailAddress(tx, address.canonical, "recommend"))) return
    const person = await personBy(tx, { ...address, name }, at)
    const known = await affiliateOf(tx, person)
    if (known?.state === "ended") return
    await inviteAffiliate(tx, { person, programme, source: "invitation", at })
  })
  return { ok: true }
}
