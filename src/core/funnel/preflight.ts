// Preflight: the funnel is checked like a program before visitors run it. Each finding says what a visitor would
// suffer, where, and what mends it. What can be wrong with a kind of step, block or effect is said by its kind.
import { blockKinds } from "../page/block/list"
import { allBlocks } from "../page/walk"
import { targetAddress } from "./address"
import { type Funnel, type Step, stepById } from "./draft"
import { effectKinds } from "./effect/list"
import { checkCourse, type Finding, type Fix, found, type PreflightContext } from "./finding"
import { checkSelling } from "./preflight-selling"
import { checkWords } from "./preflight-words"
import { offersSoldIn } from "./selling"
import { isPath } from "./slug"
import { courseAt, hasOutcomes, hasPage, outcomes, stepKinds, waysOf } from "./step/list"

/** All findings, those that stop first, in the order of the steps. */
export function preflight(funnel: Funnel, context: PreflightContext): Finding[] {
  const soldHere = offersSoldIn(funnel)
  const all = [
    ...funnel.steps.flatMap((step) => [
      ...checkOutcomes(funnel, step),
      ...checkPage(funnel, step, context, soldHere),
      ...checkAddress(funnel, step, context),
      ...checkOwn(funnel, step, context),
    ]),
    ...checkCircles(funnel),
    ...checkSelling(funnel, context.selling),
    ...checkWords(funnel, context.mail),
  ]
  // A course that two steps open is one thing to fix.
  const once = [...new Map(all.map((f) => [JSON.stringify([f.rule, f.suffers, f.fix]), f])).values()]
  return once.sort((a, b) => Number(a.weight === "advice") - Number(b.weight === "advice"))
}

function checkOutcomes(funnel: Funnel, step: Step): Finding[] {
  return waysOf(step.kind).flatMap((outcome): Finding[] => {
    const to = funnel.streams.find((s) => s.from === step.id && s.outcome === outcome)?.to ?? null
    if (stepById(funnel, to)) return []
    const next = likelyNext(funnel, step)
    return [
      {
        rule: "outcome-leads-nowhere",
        weight: "stop",
        step: step.id,
        where: step.name,
        suffers: `Whoever ${outcomes[outcome].verb} on “${step.name}” is left standing: it leads nowhere.`,
        fix: next ? { act: "lead-on", step: step.id, outcome, to: next.id } : { go: "wiring", step: step.id },
        says: next ? `Lead them to “${next.name}”` : "Choose where it leads",
      },
    ]
  })
}

/** The step after this one in the funnel's own order. */
function likelyNext(funnel: Funnel, step: Step): Step | undefined {
  return funnel.steps[funnel.steps.findIndex((s) => s.id === step.id) + 1]
}

/** Steps from which no way leads to the learning area, though every outcome leads somewhere. */
function checkCircles(funnel: Funnel): Finding[] {
  const reaches = new Set(funnel.steps.filter((s) => !hasOutcomes(s.kind)).map((s) => s.id))
  for (let grown = true; grown; ) {
    grown = false
    for (const s of funnel.streams)
      if (s.to !== null && reaches.has(s.to) && !reaches.has(s.from)) {
        reaches.add(s.from)
        grown = true
      }
  }
  return funnel.steps
    .filter((step) => !reaches.has(step.id) && goesRound(funnel, step.id))
    .map((step) => ({
      rule: "circle-without-way-out",
      weight: "stop",
      step: step.id,
      where: step.name,
      suffers: `From “${step.name}” people go round in a circle and never reach what they came for.`,
      fix: { go: "wiring", step: step.id },
      says: "Change where it leads",
    }))
}

function goesRound(funnel: Funnel, start: number): boolean {
  const seen = new Set<number>()
  const next = [start]
  while (next.length) {
    const at = next.pop()!
    for (const s of funnel.streams.filter((s) => s.from === at && s.to !== null)) {
      if (s.to === start) return true
      if (!seen.has(s.to!)) {
        seen.add(s.to!)
        next.push(s.to!)
      }
    }
  }
  return false
}

function checkPage(funnel: Funnel, step: Step, context: PreflightContext, soldHere: ReadonlySet<number>): Finding[] {
  if (!step.page) return []
  const untitled = step.page.title.trim()
    ? []
    : [
        found(
          "page-without-title",
          step,
          `“${step.name}” has no title: in the browser's tab and in a search it shows as a bare address.`,
          { go: "page", step: step.id },
          "Write a title",
        ),
      ]
  const at = {
    step,
    funnel,
    context,
    soldHere,
    address: (target: Parameters<typeof targetAddress>[0]) => targetAddress(target, step, funnel),
  }
  return [...untitled, ...[...allBlocks(step.page.blocks)].flatMap((b) => blockKinds[b.kind].check?.(b, at) ?? [])]
}

function checkAddress(funnel: Funnel, step: Step, context: PreflightContext): Finding[] {
  if (!hasPage(step.kind)) return []
  const fix: Fix = { go: "wiring", step: step.id }
  if (!isPath(step.path))
    return [
      {
        rule: "address-cannot-stand",
        weight: "stop",
        step: step.id,
        where: step.name,
        suffers: step.path
          ? `“${step.name}” can't be reached: the address /${step.path} can't be used for a page.`
          : `“${step.name}” can't be reached: it has no address.`,
        fix,
        says: "Change the address",
      },
    ]
  const twin = funnel.steps.find((s) => s.id !== step.id && s.path === step.path && hasPage(s.kind))
  const other = context.taken.get(step.path)
  if (!twin && !other) return []
  return [
    {
      rule: "address-used-twice",
      weight: "stop",
      step: step.id,
      where: step.name,
      suffers: `/${step.path} is the address of two pages, “${step.name}” and ${twin ? `“${twin.name}”` : `one of “${other}”`}: visitors would see only one of them.`,
      fix,
      says: "Change the address",
    },
  ]
}

/** What its kind says of it, where it leads, and what it sets off. */
function checkOwn(funnel: Funnel, step: Step, context: PreflightContext): Finding[] {
  const facts = stepKinds[step.kind]
  const course = funnel.courses.find((c) => c.id === courseAt(step))
  return [
    ...(facts.check?.({ step, funnel, context, kinds: stepKinds }) ?? []),
    ...(course ? checkCourse(course, step) : []),
    ...funnel.effects
      .filter((e) => e.step === step.id)
      .flatMap((e) => effectKinds[e.kind].check?.(e, { step, funnel, context, free: facts.free === true }) ?? []),
  ]
}
