// The published pages in memory: compiled, compressed, and looked after, so that answering one asks the database nothing.

import { createHash } from "node:crypto"
import { brotliCompressSync, constants, gzipSync } from "node:zlib"
import { courseOf, waysByLooking } from "@/core/funnel/address"
import type { Funnel, Step } from "@/core/funnel/draft"
import { recruitsFor, type StepKind, soldAt, stepKinds, webinarOf } from "@/core/funnel/step/list"
import { readWorn, wear } from "@/core/look/look"
import { decisionsOf } from "@/core/page/block/decision"
import { type CompiledPage, fillPage, partsOf, segmentsOf } from "@/core/page/compile"
import type { SchoolSeen } from "@/core/page/frame"
import type { Beginning } from "@/core/page/home"
import { legalKinds } from "@/core/page/legal"
import type { OfferCard } from "@/core/page/selling"
import { activeByCode, type NamedAffiliate } from "@/server/affiliate/mention"
import { type AffiliateRules, affiliateRules } from "@/server/affiliate/rules"
import type { Context } from "@/server/context"
import { courseFigures } from "@/server/course/figures"
import { listedCourses } from "@/server/course/listed"
import { quotesShown } from "@/server/course/quote"
import { shelfOf, stateOf } from "@/server/offer/quote"
import { cardsOf, dayKey } from "@/server/offer/shown"
import { releaseById } from "@/server/releases"
import { logoOf } from "@/server/school-view"
import { isShared, sharedPart } from "./part/list"
import type { Shared } from "./part/part"
import { commonHeaders, pagePolicy } from "./policy"
import { frontSteps } from "./step/list"

export type LivePage = {
  readonly funnel: number
  readonly step: number
  readonly release: number
  readonly page: CompiledPage
  readonly etag: string
  readonly bodies: Readonly<Record<"br" | "gzip" | "identity", Buffer>>
  readonly headers: Readonly<Record<"br" | "gzip" | "identity", Record<string, string>>>
  readonly policy: string
  readonly title: string
  /** What it is called, where its funnel begins here; null elsewhere. */
  readonly begins: Begins | null
  /** Whether a look at it by somebody known to their browser is a step on their way. */
  readonly counted: boolean
  /** Made anew for each look, since it shows what only the moment knows. */
  readonly dynamic: boolean
  readonly kind: StepKind
  /** Only prices change on it, so what was made for one visitor is good for the next. */
  readonly prices: boolean
  readonly decisions: ReadonlyMap<string, { readonly accept: string; readonly decline: string }>
}

/** Where a funnel begins: as it is shown among others, and what it is about. */
export type Begins = Beginning & {
  readonly gives: boolean
  readonly webinar: number | null
  /** The course that it gives. */
  readonly course: number | null
  /** The offer that it sells first. */
  readonly sells: number | null
  readonly recruits: boolean
}

export type Live = {
  /** What stands at a path now, as of at most 300 ms ago. */
  page(path: string): LivePage | undefined
  /** The page of a step where a funnel begins, while it is live. */
  entry(step: number): LivePage | undefined
  /** Where funnels begin that are live, by what their first page is called. */
  beginnings(): readonly Begins[]
  /** The path of the page that was chosen to stand at `/`; null: none was, or it isn't live. */
  front(): string | null
  /** The paths of pages to which people come from outside, in order. */
  entries(): readonly string[]
  /** Offers as pages show them, as of at most a second ago. */
  offers(): Readonly<Record<number, OfferCard>>
  /** What shared parts are made from. */
  shared(): Shared
  school(): SchoolSeen
  /** Whoever recommends, by code and number, and what holds for all of them. */
  affiliates(): Affiliates
  /** Business time as of the last look. */
  now(): number
  /** Whether the database answered the last look. */
  reachable(): boolean
  /** Calls back when the database has stopped answering; gives what calls that off. */
  onLost(call: () => void): () => void
  refresh(): Promise<void>
  stop(): void
}

export type Affiliates = {
  readonly byCode: ReadonlyMap<string, NamedAffiliate>
  readonly byId: ReadonlyMap<number, NamedAffiliate>
  readonly rules: Pick<AffiliateRules, "consent" | "changes"> & { readonly days: number }
}

const nobodyYet: Affiliates = {
  byCode: new Map(),
  byId: new Map(),
  rules: { consent: "not-needed", days: 30, changes: -1 },
}

const lookEvery = 300
/** A look that takes longer has found the database away, ms; time in which this process itself stood still doesn't count. */
const lookWithin = 2_000
/** How old what is counted of courses may be, ms. */
const figuresEvery = 60_000

/** Looks in a row that have to find it away: one may have been slow. */
const missesToLose = 2

/** Watches what is live. While the database is away, what was live stays so. */
export function watchLive(s: Context): Live {
  let pages = new Map<string, LivePage>()
  let entries = new Map<number, LivePage>()
  let seen = ""
  let school: SchoolSeen = { name: "", look: wear(readWorn("")) }
  let worn = ""
  let legal: string | null = null
  let frontFunnel: number | null = null
  let offset = 0
  let affiliates = nobodyYet
  let reachable = true
  let shared: Shared = { offers: {}, quotes: {}, figures: {}, listed: {} }
  let figuresAt = 0
  let offersAt = 0
  let shelfSeen = ""
  let timer: NodeJS.Timeout | undefined
  let stopped = false
  const lost = new Set<() => void>()
  let misses = 0
  // What visitors ask for keeps all other connections busy on a launch day.
  const db = s.db.apart()
  const look = async () => {
    try {
      const rows = await db.rows<{ path: string; funnel_id: number; release_id: number; step_id: number }>(
        "SELECT path, funnel_id, release_id, step_id FROM live_page ORDER BY path LIMIT 20000",
      )
      const head = await db.row<{
        name: string
        look: string
        offset_ms: number
        changes: number
        legal: string | null
        front: number | null
      }>(
        "SELECT COALESCE(s.name, '') AS name, COALESCE(s.look, '') AS look, c.offset_ms, (SELECT changes FROM affiliate_rules WHERE id = 1) AS changes, (SELECT GROUP_CONCAT(kind) FROM legal_page WHERE shown IS NOT NULL) AS legal, s.front_funnel_id AS front FROM clock c LEFT JOIN school s ON s.id = 1 WHERE c.id = 1",
      )
      if (school.name !== head?.name || worn !== head.look || legal !== head.legal) {
        legal = head?.legal ?? null
        worn = head?.look ?? ""
        const chosen = readWorn(worn)
        school = {
          name: head?.name ?? "",
          look: wear(chosen),
          logo: await logoOf(db, chosen.logo),
          legal: legalKinds.filter((kind) => legal?.split(",").includes(kind)),
        }
      }
      frontFunnel = head?.front ?? null
      offset = s.config.mode === "own" ? 0 : (head?.offset_ms ?? 0)
      if (head && head.changes !== affiliates.rules.changes) {
        const rules = await affiliateRules(s.db)
        const byCode = await activeByCode(s.db)
        affiliates = {
          byCode,
          byId: new Map([...byCode.values()].map((a) => [a.id, a])),
          rules: { consent: rules.consent, days: rules.mention.days, changes: rules.changes },
        }
      }
      const signature = JSON.stringify(rows)
      if (signature !== seen) {
        const next = new Map<string, LivePage>()
        for (const r of rows) {
          const known = pages.get(r.path)
          if (known?.release === r.release_id && known.step === r.step_id) next.set(r.path, known)
          else {
            const release = await releaseById(s.db, r.release_id)
            const compiled = release?.pages.find((p) => p.step === r.step_id)
            const step = release?.funnel.steps.find((x) => x.id === r.step_id)
            if (compiled && step)
              next.set(r.path, prepare(release!.funnel, r.release_id, compiled, step, shared, s.config.origin))
          }
        }
        pages = next
        entries = new Map([...next.values()].filter((p) => p.page.entry).map((p) => [p.step, p]))
        seen = signature
      }
      if (Date.now() - offersAt > 900) {
        const shelf = await shelfOf(s.db)
        const at = await s.clock.now()
        // Cards say the same until what is stored changes, an offer begins or ends, or another day does.
        const states = [...shelf.offers.keys()].map((id) => stateOf(shelf, id, at))
        const says = JSON.stringify([
          [...shelf.offers],
          [...shelf.gone],
          shelf.rules,
          states,
          dayKey(at, shelf.rules.zone),
        ])
        const now: Shared = {
          offers: says === shelfSeen ? shared.offers : cardsOf(shelf, at),
          quotes: await quotesShown(s.db),
          listed: await listedCourses(s.db),
          figures: Date.now() - figuresAt > figuresEvery ? await courseFigures(s.db, at) : shared.figures,
        }
        if (now.figures !== shared.figures) figuresAt = Date.now()
        shelfSeen = says
        // A page that shows any of it was made from the old: it is made again.
        if (JSON.stringify(now) !== JSON.stringify(shared)) {
          shared = now
          for (const [path, page] of pages)
            if (page.prices) pages.set(path, { ...page, ...bodiesOf(page.page, page.policy, shared, s.config.origin) })
        }
        offersAt = Date.now()
      }
      reachable = true
      misses = 0
    } catch (error) {
      missed(error)
    }
  }
  const missed = (error: unknown) => {
    misses++
    if (misses < missesToLose) return
    if (reachable) s.log.warn(error, "the database doesn't answer")
    reachable = false
    for (const call of lost) call()
    lost.clear()
  }
  const refresh = async () => {
    const late = standstill()
    let watch: NodeJS.Timeout | undefined
    const tooLong = new Promise<void>((done) => {
      const began = Date.now()
      watch = setInterval(() => {
        if (Date.now() - began - late.ms() < lookWithin) return
        missed(new Error("it took too long"))
        done()
      }, 100)
    })
    await Promise.race([look(), tooLong])
    clearInterval(watch)
    late.stop()
  }
  const loop = async () => {
    await refresh()
    if (!stopped) timer = setTimeout(loop, lookEvery)
  }
  timer = setTimeout(loop, 0)
  return {
    page: (path) => pages.get(path),
    entry: (step) => entries.get(step),
    beginnings: () => [...pages.values()].flatMap((p) => p.begins ?? []).sort((a, b) => (a.title < b.title ? -1 : 1)),
    front: () => [...pages.values()].find((p) => p.begins && p.funnel === frontFunnel)?.page.path ?? null,
    entries: () => [...pages].flatMap(([path, p]) => (p.page.entry ? [path] : [])).sort(),
    offers: () => shared.offers,
    shared: () => shared,
    school: () => school,
    affiliates: () => affiliates,
    now: () => Date.now() + offset,
    reachable: () => reachable,
    onLost: (call) => {
      lost.add(call)
      return () => lost.delete(call)
    },
    refresh,
    stop: () => {
      stopped = true
      clearTimeout(timer)
      void db.end()
    },
  }
}

/** Counts how long this process has stood still since, ms: what it waited for may have come and not been seen. */
function standstill(): { ms(): number; stop(): void } {
  const every = 50
  let ms = 0
  let last = performance.now()
  const step = () => {
    const now = performance.now()
    ms += Math.max(0, now - last - every - 20)
    last = now
  }
  const timer = setInterval(step, every)
  return {
    ms: () => ms + Math.max(0, performance.now() - last - every - 20),
    stop: () => clearInterval(timer),
  }
}

function prepare(
  whole: Funnel,
  release: number,
  page: CompiledPage,
  step: Step,
  shared: Shared,
  origin: string,
): LivePage {
  const parts = partsOf(page)
  const policy = pagePolicy(page.style, page.script, "", "", page.frames)
  return {
    funnel: whole.id,
    step: page.step,
    release,
    page,
    policy,
    kind: step.kind,
    title: step.page?.title || page.path,
    begins: page.entry && whole.steps[0]?.id === step.id ? beginsAt(whole, step, page) : null,
    counted: page.entry || waysByLooking(whole, step.id).length > 0,
    dynamic: frontSteps[step.kind].look !== undefined || parts.some((p) => !isShared(p)) || segmentsOf(page).length > 0,
    prices: parts.some(isShared),
    decisions: new Map(decisionsOf(step.page).map((b) => [b.id, b])),
    ...bodiesOf(page, policy, shared, origin),
  }
}

function beginsAt(whole: Funnel, step: Step, page: CompiledPage): Begins {
  const webinar = webinarOf(step)
  const recruits = recruitsFor(step) !== null
  const sells = whole.steps.map(soldAt).find((sold) => sold?.as === "first")?.offer ?? null
  const gives = stepKinds[step.kind].free === true && webinar === null && !recruits
  return {
    path: page.path,
    title: step.page?.title || page.path,
    about: page.shown?.about ?? "",
    picture: page.shown?.picture ?? null,
    gives,
    course: gives ? (courseOf(whole)?.id ?? null) : null,
    webinar,
    recruits,
    sells: gives || webinar !== null ? null : sells,
  }
}

function bodiesOf(
  page: CompiledPage,
  policy: string,
  shared: Shared,
  origin: string,
): Pick<LivePage, "etag" | "bodies" | "headers"> {
  const identity = Buffer.from(fillPage(page.pieces, { origin }, (p) => sharedPart(p, shared)))
  const bodies = {
    identity,
    gzip: gzipSync(identity, { level: 9 }),
    br: brotliCompressSync(identity, { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }),
  }
  const etag = `"${createHash("sha256").update(identity).digest("base64url").slice(0, 22)}"`
  const headersFor = (encoding: keyof typeof bodies) => ({
    ...commonHeaders,
    "content-type": "text/html; charset=utf-8",
    "cache-control": "private, no-cache",
    "content-security-policy": policy,
    vary: "accept-encoding",
    etag,
    "content-length": String(bodies[encoding].length),
    ...(encoding === "identity" ? {} : { "content-encoding": encoding }),
  })
  return {
    etag,
    bodies,
    headers: { br: headersFor("br"), gzip: headersFor("gzip"), identity: headersFor("identity") },
  }
}
