// Releases: what visitors get, frozen when the marketer publishes, however much is edited since.

import { isDeepStrictEqual } from "node:util"
import { type SaidFinding, sayFindings } from "@/core/finding"
import { type CompileContext, compilePage } from "@/core/funnel/compile"
import type { Funnel } from "@/core/funnel/draft"
import type { PreflightContext } from "@/core/funnel/finding"
import { preflight } from "@/core/funnel/preflight"
import { refsOfFunnel } from "@/core/funnel/refs"
import { fillKept, type KeptSections } from "@/core/page/kept"
import { actorText } from "@/core/person/actor"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { courseFigures } from "../course/figures"
import { coursePagesOf } from "../course/gates"
import { listedCourses } from "../course/listed"
import { quotesShown } from "../course/quote"
import { teacherCards } from "../course/teacher"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { mailState } from "../mail/server"
import { shelfOf } from "../offer/quote"
import { offerCards } from "../offer/shown"
import { keptSections } from "../page/kept"
import { shownLegal, unwrittenLegal } from "../page/legal"
import { addressesOf } from "../page/links"
import { listFields } from "../person/field"
import { picturesOf } from "../pictures"
import { programmeFacts } from "../programme/check"
import { type Release, releaseById } from "../releases"
import type { Refused } from "../saved"
import { lookOf, schoolLogo, schoolRow } from "../school-view"
import { liveWithFunnel } from "../sequence/live"
import { webinarFacts } from "../webinar/webinar"
import { loadFunnel } from "./load"

/** How long a form of a release is taken after visitors have been given another, ms of business time. */
const formsTakenFor = 3_600_000

/**
 * The release that a form carries: the live one, or one that was live within the last hour, for whoever had the page open.
 * `old` where it is one of ours and has been replaced for longer.
 */
export async function releaseOfForm(
  s: Pick<Context, "db" | "clock">,
  id: string | number,
): Promise<Release | "old" | undefined> {
  const release = /^[1-9]\d{0,8}$/.test(String(id)) ? await releaseById(s.db, Number(id)) : undefined
  if (!release) return undefined
  const taken = await s.db.row(
    "SELECT 1 FROM `release` r JOIN funnel f ON f.id = r.funnel_id WHERE r.id = ? AND (f.live_release_id = r.id OR r.replaced_at > ?)",
    [release.id, new Date((await s.clock.now()) - formsTakenFor)],
  )
  return taken ? release : "old"
}

export async function compileContext(db: Db, funnel: Funnel, release: number): Promise<CompileContext> {
  const school = await schoolRow(db)
  const kept = await keptSections(db)
  const media = mediaOf(withKept(funnel, kept))
  const videos = await db.rows<Pick<Row<"media">, "id" | "stored" | "type" | "made_at">>(
    "SELECT id, stored, type, made_at FROM media WHERE (kind = 'video' OR type LIKE 'audio/%' OR type = 'text/vtt') AND id IN (?)",
    [[0, ...media]],
  )
  return {
    funnel,
    school: {
      name: school?.name ?? "",
      postalAddress: school?.postal_address ?? "",
      look: lookOf(school?.look),
      logo: await schoolLogo(db),
      legal: await shownLegal(db),
    },
    pictures: await picturesOf(db, media),
    release,
    teachers: await teacherCards(db),
    videos: new Map(
      videos.map((v) => [v.id, { url: `/media/${v.stored}`, type: v.type, at: v.made_at.toISOString().slice(0, 10) }]),
    ),
    fields: await listFields(db),
    kept,
    addresses: await addressesOf(
      db,
      refsOfFunnel(withKept(funnel, kept)).map((r) => r.ref),
    ),
  }
}

/** Everything for a preview: also what the offers look like now. */
export async function previewContext(s: Context, funnel: Funnel): Promise<CompileContext> {
  return {
    ...(await compileContext(s.db, funnel, 0)),
    offers: await offerCards(s),
    quotes: await quotesShown(s.db),
    listed: await listedCourses(s.db),
    figures: await courseFigures(s.db, await s.clock.now()),
  }
}

/** A funnel whose pages have what their kept sections hold in their place. */
const withKept = (f: Funnel, kept: KeptSections): Funnel => ({
  ...f,
  steps: f.steps.map((s) => ({ ...s, page: s.page && fillKept(s.page, kept) })),
})

/** Pictures and videos that any page of a funnel shows. */
function mediaOf(funnel: Funnel): number[] {
  return refsOfFunnel(funnel).flatMap(({ ref }) => (ref.to === "media" ? [ref.id] : []))
}

/** What preflight must know beyond the funnel itself. */
export async function preflightContext(
  s: Pick<Context, "cards" | "clock" | "mailer" | "meeting">,
  db: Db,
  funnel: number,
): Promise<PreflightContext> {
  const school = await schoolRow(db)
  const others = await db.rows<{ path: string; name: string }>(
    `SELECT s.path, f.name FROM step s JOIN funnel f ON f.id = s.funnel_id WHERE s.funnel_id <> ? AND s.path <> ''
     UNION SELECT p.path, f.name FROM live_page p JOIN funnel f ON f.id = p.funnel_id WHERE p.funnel_id <> ?`,
    [funnel, funnel],
  )
  const shelf = await shelfOf(db)
  return {
    sender: { name: school?.sender_name ?? "", email: school?.sender_email ?? "" },
    taken: new Map(others.map((o) => [o.path, o.name])),
    selling: {
      offers: shelf.offers,
      gone: shelf.gone,
      processor: s.cards !== null,
      statement: shelf.rules.statement,
      unwritten: await unwrittenLegal(db),
      at: await s.clock.now(),
    },
    mail: await mailState(s, db),
    webinars: await webinarFacts(db, await s.clock.now(), s.meeting !== null),
    programmes: await programmeFacts(db, await s.clock.now()),
    doors: await coursePagesOf(db),
  }
}

export async function checkFunnel(s: Context, funnel: Funnel, db: Db = s.db): Promise<SaidFinding[]> {
  const kept = await keptSections(db)
  return sayFindings(s.words, preflight(withKept(funnel, kept), await preflightContext(s, db, funnel.id)))
}

export type PublishedFunnel =
  | { readonly release: number; readonly number: number }
  | { readonly refused: string; readonly findings: readonly SaidFinding[] }

/**
 * Publishes a funnel as a new release. With findings that stop it is refused, unless `anyway`; an address that another
 * funnel's live page has is refused always, for only one page can stand there.
 */
export async function publishFunnel(s: Context, id: number, anyway = false): Promise<PublishedFunnel> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<PublishedFunnel> => {
    await tx.row("SELECT id FROM funnel WHERE id = ? FOR UPDATE", [id])
    const funnel = await loadFunnel(tx, id)
    if (!funnel) return { refused: refusals.gone.funnel, findings: [] }
    const findings = await checkFunnel(s, funnel, tx)
    const stops = findings.filter((f) => f.weight === "stop")
    if (stops.length && !anyway) return { refused: refusals.funnel.preflight, findings: stops }
    const pages = funnel.steps.filter((step) => step.page)
    const paths = pages.map((p) => p.path)
    const clash = await tx.row<{ path: string }>("SELECT path FROM live_page WHERE funnel_id <> ? AND path IN (?)", [
      id,
      ["", ...paths],
    ])
    if (clash || new Set(paths).size < paths.length || paths.includes(""))
      return {
        refused: clash ? refusals.funnel.addressTaken(clash.path) : refusals.funnel.ownAddress,
        findings: stops,
      }
    const release = await putOut(s, tx, funnel, at)
    await liveWithFunnel(
      tx,
      funnel.sequences.map((q) => q.id),
      at,
    )
    return release
  })
}

/** A new release of these pages, as they are and in what the school wears now; visitors get it from now on. */
async function putOut(s: Context, tx: Db, funnel: Funnel, at: number): Promise<{ release: number; number: number }> {
  const { id } = funnel
  const pages = funnel.steps.filter((step) => step.page)
  const last = await tx.row<{ n: number }>("SELECT COALESCE(MAX(number), 0) AS n FROM `release` WHERE funnel_id = ?", [
    id,
  ])
  const number = (last?.n ?? 0) + 1
  const base = await compileContext(tx, funnel, 0)
  const release = await tx.insert("release", {
    funnel_id: id,
    number,
    at: new Date(at),
    snapshot: JSON.stringify(ofPages(funnel)),
    pages: "[]",
    look: (await schoolRow(tx))?.look ?? "",
    actor: actorText(s.actor),
  })
  const compiled = pages.map((step) => compilePage(step, { ...base, release: release.id }))
  await tx.update("release", release.id, { pages: JSON.stringify(compiled) })
  await rememberPaths(tx, id, at)
  await tx.write("DELETE FROM live_page WHERE funnel_id = ?", [id])
  await tx.insert(
    "live_page",
    pages.map((p) => ({ path: p.path, funnel_id: id, release_id: release.id, step_id: p.id })),
  )
  await replaceLive(tx, id, release.id, at)
  await tx.write("UPDATE media SET public = 1 WHERE id IN (?)", [[0, ...base.videos.keys(), ...filesLinked(base)]])
  return { release: release.id, number }
}

/** Files that pages link to: whoever looks at the page may have them. */
const filesLinked = ({ addresses = new Map() }: CompileContext): number[] =>
  [...addresses.keys()].flatMap((key) => (key.startsWith("file:") ? [Number(key.slice(5))] : []))

/** Every funnel that is live is published again as it stands, in what the school wears now: what its draft has since isn't. Gives how many. */
export const wearEverywhere = (s: Context): Promise<number> =>
  putOutAgain(s, "r.look <> (SELECT look FROM school WHERE id = 1)", [])

/** The same for every funnel that shows one of these media on a live page. */
export const showEverywhere = (s: Context, media: readonly number[]): Promise<number> =>
  putOutAgain(s, "EXISTS (SELECT 1 FROM media m WHERE m.id IN (?) AND LOCATE(LEFT(m.stored, 24), r.pages))", [media])

/** The same for every funnel that shows a kept section on a live page. */
export const sectionEverywhere = (s: Context, section: number): Promise<number> =>
  putOutAgain(s, "r.snapshot REGEXP ?", [`"kind":"kept","section":${section}[,}]`])

/** The same for every funnel: what stands at the foot of every page has changed. */
export const footEverywhere = (s: Context): Promise<number> => putOutAgain(s, "TRUE", [])

async function putOutAgain(s: Context, which: string, values: unknown[]): Promise<number> {
  const live = await s.db.rows<{ funnel: number; release: number }>(
    `SELECT f.id AS funnel, r.id AS \`release\` FROM funnel f JOIN \`release\` r ON r.id = f.live_release_id WHERE ${which} ORDER BY f.id`,
    values,
  )
  for (const { funnel, release } of live)
    await s.db.transaction(async (tx) => {
      await tx.row("SELECT id FROM funnel WHERE id = ? FOR UPDATE", [funnel])
      const still = await tx.row("SELECT 1 FROM funnel WHERE id = ? AND live_release_id = ?", [funnel, release])
      const published = await releaseById(tx, release)
      if (still && published) await putOut(s, tx, { ...published.funnel, id: funnel }, await s.clock.now())
    })
  return live.length
}

/** Where the pages of a funnel have stood: links to them that were given out are led on from there. */
async function rememberPaths(tx: Db, funnel: number, at: number): Promise<void> {
  await tx.write(
    "REPLACE INTO page_before (path, funnel_id, step_id, at) SELECT path, funnel_id, step_id, ? FROM live_page WHERE funnel_id = ?",
    [new Date(at), funnel],
  )
}

/** Visitors get another release, or none, from now on. */
async function replaceLive(tx: Db, funnel: number, release: number | null, at: number): Promise<void> {
  await tx.write("UPDATE `release` r JOIN funnel f ON f.live_release_id = r.id SET r.replaced_at = ? WHERE f.id = ?", [
    new Date(at),
    funnel,
  ])
  await tx.update("funnel", funnel, { live_release_id: release })
}

export type Past = {
  readonly id: number
  readonly number: number
  readonly at: Date
  readonly live: boolean
  /** The name of the account that published it, where it is known. */
  readonly who: string | null
}

/** The releases of a funnel, the newest first; at most 20. */
export async function releasesOf(db: Db, funnel: number): Promise<Past[]> {
  const rows = await db.rows<Omit<Past, "live"> & { live: number }>(
    "SELECT r.id, r.number, r.at, r.id = COALESCE(f.live_release_id, 0) AS live, a.name AS who FROM `release` r JOIN funnel f ON f.id = r.funnel_id LEFT JOIN account a ON r.actor = CONCAT('account:', a.id) WHERE r.funnel_id = ? ORDER BY r.number DESC LIMIT 20",
    [funnel],
  )
  return rows.map((r) => ({ ...r, live: Boolean(r.live) }))
}

/** Gives visitors an earlier release again, as it was. The draft stays as it is. */
export async function bringBack(
  s: Context,
  id: number,
  release: number,
): Promise<{ readonly number: number } | Refused> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx) => {
    await tx.row("SELECT id FROM funnel WHERE id = ? FOR UPDATE", [id])
    const row = await tx.row<{ number: number }>("SELECT number FROM `release` WHERE id = ? AND funnel_id = ?", [
      release,
      id,
    ])
    const found = row && (await releaseById(tx, release))
    if (!row || !found) return { refused: refusals.gone.release }
    const clash = await tx.row<{ path: string }>("SELECT path FROM live_page WHERE funnel_id <> ? AND path IN (?)", [
      id,
      ["", ...found.pages.map((p) => p.path)],
    ])
    if (clash) return { refused: refusals.funnel.addressTakenNow(clash.path) }
    await rememberPaths(tx, id, at)
    await tx.write("DELETE FROM live_page WHERE funnel_id = ?", [id])
    await tx.insert(
      "live_page",
      found.pages.map((p) => ({ path: p.path, funnel_id: id, release_id: release, step_id: p.step })),
    )
    await replaceLive(tx, id, release, at)
    return { number: row.number }
  })
}

/** Takes a funnel's pages off; who is on their way through its mails goes on. */
export async function unpublishFunnel(s: Context, id: number): Promise<void> {
  const at = await s.clock.now()
  await s.db.transaction(async (tx) => {
    await rememberPaths(tx, id, at)
    await tx.write("DELETE FROM live_page WHERE funnel_id = ?", [id])
    await replaceLive(tx, id, null, at)
  })
}

/** Whether the draft has moved on since what visitors get was published. */
export async function isChanged(db: Db, funnel: Funnel): Promise<boolean> {
  const live = await db.row<{ id: number; look: string; now: string }>(
    "SELECT r.id, r.look, (SELECT look FROM school WHERE id = 1) AS now FROM funnel f JOIN `release` r ON r.id = f.live_release_id WHERE f.id = ?",
    [funnel.id],
  )
  const release = live && (await releaseById(db, live.id))
  if (!live || !release) return false
  return live.look !== live.now || !isDeepStrictEqual(ofPages(release.funnel), ofPages(funnel))
}

/** What of a funnel is published with it: its sequences are put live by themselves. */
const ofPages = (f: Funnel): Funnel => ({ ...f, sequences: [] })
