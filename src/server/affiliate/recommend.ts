// What a lesson shows whoever could recommend an offer: their own link, words and pictures, or the way to get them.
import { shortLink } from "@/core/affiliate/code"
import { programmeRuns } from "@/core/affiliate/programme"
import { termsText } from "@/core/affiliate/words"
import { allBlocks, type Page } from "@/core/page/document"
import type { Context } from "../context"
import { programmeOf } from "../programme/programme"
import { affiliateOf, partsOfAffiliate } from "./affiliate"
import { type Ready, readyFor, wordsOfConditions } from "./portal"

export type Recommending = {
  readonly offer: number
  readonly name: string
  readonly says: string
  readonly about: string
  readonly version: number
  readonly conditions: string
  /** Whether whoever joins can begin at once. */
  readonly atOnce: boolean
  /** `stranger`: the device has not shown whose it is. */
  readonly stands: "stranger" | "could" | "asked" | "recommends"
  readonly link: string | null
  readonly ready: readonly Ready[]
}

/** By the block that shows it; programmes that don't run show nothing. `person` null: nobody has shown who they are. */
export async function recommendingIn(
  s: Context,
  page: Page,
  person: number | null,
): Promise<ReadonlyMap<string, Recommending>> {
  const found = new Map<string, Recommending>()
  for (const b of allBlocks(page.blocks)) {
    if (!("recommends" in b) || b.recommends === null) continue
    const p = await programmeOf(s.db, b.recommends)
    if (!p || !programmeRuns(p, await s.clock.now())) continue
    const a = person === null ? undefined : await affiliateOf(s.db, person)
    if (a?.state === "ended") continue
    const part = a && (await partsOfAffiliate(s.db, a.id)).find((x) => x.offer === p.offer)
    const agreed = part !== undefined && part.agreedVersion >= p.conditionsVersion
    const stands =
      person === null
        ? "stranger"
        : a?.state === "active" && agreed && !part.waits
          ? "recommends"
          : (a?.state === "asked" || part?.waits) && agreed
            ? "asked"
            : "could"
    const own = stands === "recommends" ? a! : null
    found.set(b.id, {
      offer: p.offer,
      name: p.name,
      says: termsText(p.terms, part?.rate ?? null, p.currency),
      about: p.about,
      version: p.conditionsVersion,
      conditions: stands === "could" ? await wordsOfConditions(s.db, p) : "",
      atOnce: p.approve === "at-once" || part !== undefined,
      stands,
      link: own && shortLink(s.config.origin, { code: own.code, sub: "" }),
      ready: own ? await readyFor(s, own, p) : [],
    })
  }
  return found
}
