// The school's own pages in a look: to choose one by, and before it is published.
import { compilePage } from "@/core/funnel/compile"
import type { StepKind } from "@/core/funnel/step/list"
import { stepKinds } from "@/core/funnel/step/list"
import { type Worn, wear } from "@/core/look/look"
import { fillPage } from "@/core/page/compile"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { logoOf } from "../school-view"
import { loadFunnel } from "./load"
import { previewContext } from "./release"

export type PageNamed = {
  readonly step: number
  readonly name: string
  readonly funnel: string
  readonly live: boolean
}

/** Every page of every funnel, what is live first, and of a funnel in its order. At most 500. */
export async function pagesToWear(db: Db): Promise<PageNamed[]> {
  const rows = await db.rows<{ step: number; name: string; kind: string; funnel: string; live: number }>(
    "SELECT s.id AS step, s.name, s.kind, f.name AS funnel, f.live_release_id IS NOT NULL AS live FROM step s JOIN funnel f ON f.id = s.funnel_id WHERE s.page IS NOT NULL ORDER BY live DESC, f.id, s.id LIMIT 500",
  )
  return rows.map((r) => ({
    step: r.step,
    funnel: r.funnel,
    live: r.live === 1,
    name: r.name === r.funnel ? stepKinds[r.kind as StepKind].label : r.name,
  }))
}

/** The page of a step, as it is written now, in this look; null where there is none. */
export async function drawWorn(s: Context, step: number, worn: Worn): Promise<string | null> {
  const row = await s.db.row<{ funnel: number }>("SELECT funnel_id AS funnel FROM step WHERE id = ?", [step])
  const funnel = row && (await loadFunnel(s.db, row.funnel))
  const found = funnel?.steps.find((x) => x.id === step)
  if (!funnel || !found?.page) return null
  const context = await previewContext(s, funnel)
  const school = { ...context.school, look: wear(worn), logo: await logoOf(s.db, worn.logo) }
  return fillPage(compilePage(found, { ...context, school }).pieces, {})
}
