// What preflight knows of words and mails: that nothing is published which was left to be said, that mails can go out at all,
// and that what was made from a course still fits the course.

import type { CourseCard } from "../course/card"
import { type Finding, found } from "../finding"
import { blockKinds } from "../page/block/list"
import { allBlocks } from "../page/walk"
import { courseOf } from "./address"
import { type Funnel, type Step, streamTo } from "./draft"
import type { MailState, PreflightContext } from "./finding"
import { numberSaid, saidNumber } from "./phrase"
import { offersSoldIn } from "./selling"
import { stepKinds, waysOf, webinarOf } from "./step/list"

export function checkWords(
  funnel: Funnel,
  { mail, selling, webinars }: Pick<PreflightContext, "mail" | "selling" | "webinars">,
): Finding[] {
  return [
    ...checkMailServer(funnel, mail),
    ...funnel.steps.flatMap((step) => [...unwritten(step), ...wrongSums(funnel, step)]),
    ...deadlines(funnel, selling, webinars),
    ...unreached(funnel),
  ]
}

function checkMailServer(funnel: Funnel, mail: MailState): Finding[] {
  const step = funnel.steps.find((s) => stepKinds[s.kind].needsMail)
  if (mail === "well" || !step) return []
  const refused = mail === "none" ? null : mail.refused
  const data = { refused, waits: stepKinds[step.kind].needsMail! }
  return [found("no-mail-server", step, data, { go: "mail" }, { where: "Mail" })]
}

function unwritten(step: Step): Finding[] {
  return [...allBlocks(step.page?.blocks ?? [])].flatMap((b): Finding[] => {
    const facts = blockKinds[b.kind]
    const gap = facts.gap(b)
    if (!gap) return []
    const data = { step: step.name, gap, mend: facts.gapSays ?? null }
    const weight = facts.unseen ? ({ weight: "advice" } as const) : {}
    return [found("words-to-write", step, data, { go: "page", step: step.id, block: b.id }, weight)]
  })
}

/** Words that press for time. Common practice: what is said so must be so. */
const pressing =
  /\b(?:only|just) (?:\d+|one|two|three|a few|a) (?:hours?|days?|seats?|places?|left)\b|\b(?:last chance|offer ends|ends (?:tonight|today|tomorrow|soon|on \w+day|at midnight)|until (?:tonight|midnight|tomorrow|\w+day)|hurry)\b/i

/** A deadline on a page where nothing that is sold ends. */
function deadlines(
  funnel: Funnel,
  selling: PreflightContext["selling"],
  webinars: PreflightContext["webinars"],
): Finding[] {
  const kept =
    [...offersSoldIn(funnel)].some((id) => {
      const offer = selling.offers.get(id)
      return offer !== undefined && (offer.until !== null || offer.pieces !== null)
    }) ||
    funnel.steps.some((s) => {
      const w = webinars.get(webinarOf(s) ?? 0)
      return w !== undefined && (w.next?.deal != null || w.next?.replay != null)
    })
  if (kept) return []
  return funnel.steps.flatMap((step) =>
    [...allBlocks(step.page?.blocks ?? [])].flatMap((b): Finding[] => {
      const said = pressing.exec(blockKinds[b.kind].text?.(b) ?? "")?.[0]
      if (!said) return []
      const data = { step: step.name, said }
      return [found("deadline-not-kept", step, data, { go: "page", step: step.id, block: b.id }, { weight: "advice" })]
    }),
  )
}

/** "Three short lessons" where there are four by now. */
function wrongSums(funnel: Funnel, step: Step): Finding[] {
  const course = courseOf(funnel)
  const live = liveOf(course).length
  if (!course || live === 0) return []
  const said = new RegExp(`\\b(${saidNumber}) (?:short )?lessons?\\b`, "i")
  return [...allBlocks(step.page?.blocks ?? [])].flatMap((b): Finding[] => {
    const match = said.exec(blockKinds[b.kind].text?.(b) ?? "")
    if (!match || numberSaid(match[1]!) === live) return []
    const data = { step: step.name, said: match[0], course: course.title, lessons: live }
    return [found("wrong-sum", step, data, { go: "page", step: step.id, block: b.id }, { weight: "advice" })]
  })
}

const liveOf = (course: CourseCard | undefined) => course?.lessons.filter((l) => l.state === "live") ?? []

/** Steps that no way leads to from where a funnel begins. */
function unreached(funnel: Funnel): Finding[] {
  const seen = new Set(funnel.steps.filter((s) => stepKinds[s.kind].entry).map((s) => s.id))
  const next = [...seen]
  for (let at = next.pop(); at !== undefined; at = next.pop()) {
    const step = funnel.steps.find((s) => s.id === at)
    for (const o of step ? waysOf(step.kind) : []) {
      const to = streamTo(funnel, at, o)?.id
      if (to !== undefined && !seen.has(to)) {
        seen.add(to)
        next.push(to)
      }
    }
  }
  // A way that is cut at an outcome is told there.
  const cut = funnel.steps.some((s) => waysOf(s.kind).some((o) => seen.has(s.id) && !streamTo(funnel, s.id, o)))
  if (cut) return []
  return funnel.steps
    .filter((s) => !seen.has(s.id))
    .map((s) => found("nobody-reaches-it", s, { step: s.name }, { go: "wiring", step: s.id }, { weight: "advice" }))
}
