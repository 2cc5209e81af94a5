// What preflight says of recommending: a programme that is on for what a funnel sells, and lacks something.

import { type Finding, found } from "../finding"
import type { Funnel } from "./draft"
import type { PreflightContext } from "./finding"
import { soldAt } from "./step/list"

/** Advice: whoever comes by themselves suffers nothing of it. */
export function checkProgrammes(funnel: Funnel, programmes: PreflightContext["programmes"]): Finding[] {
  const told = new Set<number>()
  return funnel.steps.flatMap((step): Finding[] => {
    const sold = soldAt(step)
    const offer = sold?.as === "first" ? sold.offer : null
    const p = offer === null || told.has(offer) ? undefined : programmes.get(offer)
    if (!p || offer === null) return []
    told.add(offer)
    return p.lacks.map((lacks) =>
      found("programme-lacks", step, { offer: p.name, lacks }, { go: "programme", offer }, { weight: "advice" }),
    )
  })
}
