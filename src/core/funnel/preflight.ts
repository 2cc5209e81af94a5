// Preflight: the funnel is checked like a program before visitors run it. Each finding says what a visitor would
// suffer, where, and what mends it. What can be wrong with a kind of step, block or effect is said by its kind.

import { type Finding, type Fix, found } from "../finding"
import { giftKinds } from "../offer/gift/list"
import { giftsOf } from "../offer/offer"
import { blockKinds } from "../page/block/list"
import { allBlocks } from "../page/walk"
import { targetAddress } from "./address"
import { type Funnel, type Step, stepById } from "./draft"
import { checkEffect } from "./effect-checks"
import { checkCourse, checkCoursePages, checkEmpty, type PreflightContext } from "./finding"
import { checkProgrammes } from "./preflight-affiliates"
import { checkSelling } from "./preflight-selling"
import { checkReminders } from "./preflight-webinar"
import { checkWords } from "./preflight-words"
import { offersKnownAt, offersSoldIn } from "./selling"
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
    ...funnel.steps.flatMap((step) => {
      const course = funnel.courses.find((c) => c.id === courseAt(step))
      return course ? checkCoursePages(course, step, context.doors.get(course.id)) : []
    }),
    ...checkPromised(funnel, context),
    ...checkSelling(funnel, context.selling),
    ...checkReminders(funnel, context.webinars),
    ...checkProgrammes(funnel, context.programmes),
    ...checkWords(funnel, context),
  ]
  // A course that two steps open is one thing to fix.
  const once = [...new Map(all.map((f) => [JSON.stringify([f.rule, f.data, f.fix]), f])).values()]
  return once.sort((a, b) => Number(a.weight === "advice") - Number(b.weight === "advice"))
}

function checkOutcomes(funnel: Funnel, step: Step): Finding[] {
  return waysOf(step.kind).flatMap((outcome): Finding[] => {
    const to = funnel.streams.find((s) => s.from === step.id && s.outcome === outcome)?.to ?? null
    if (stepById(funnel, to)) return []
    const next = likelyNext(funnel, step)
    return [
      found(
        "outcome-leads-nowhere",
        step,
        { does: outcomes[outcome].verb, step: step.name, next: next?.name ?? null },
        next ? { act: "lead-on", step: step.id, outcome, to: next.id } : { go: "wiring", step: step.id },
      ),
    ]
  })
}

/** The step after this one in the funnel's own order. */
function likelyNext(funnel: Funnel, step: Step): Step | undefined {
  return funnel.steps[funnel.steps.findIndex((s) => s.id === step.id) + 1]
}

/** Every course that it opens or sells, once. */
function checkPromised(funnel: Funnel, context: PreflightContext): Finding[] {
  const promised = new Map<number, Finding[]>()
  const promise = (course: number, title: string, step: Step) =>
    promised.set(course, promised.get(course) ?? checkEmpty(course, title, step, context.doors.get(course)))
  for (const step of funnel.steps) {
    const course = funnel.courses.find((c) => c.id === courseAt(step))
    if (course) promise(course.id, course.title, step)
    for (const offer of offersKnownAt(step, context.selling))
      for (const gift of giftsOf(offer, context.selling.offers)) {
        const opens = giftKinds[gift.kind].opens(gift)
        if (opens && "course" in opens && "title" in gift) promise(opens.course, gift.title, step)
      }
  }
  return [...promised.values()].flat()
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
    .map((step) => found("circle-without-way-out", step, { step: step.name }, { go: "wiring", step: step.id }))
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
    : [found("page-without-title", step, { step: step.name }, { go: "page", step: step.id })]
  const at = {
    step,
    funnel,
    selling: context.selling,
    soldHere,
    address: (target: Parameters<typeof targetAddress>[0]) => targetAddress(target, step, funnel),
  }
  return [...untitled, ...[...allBlocks(step.page.blocks)].flatMap((b) => blockKinds[b.kind].check?.(b, at) ?? [])]
}

function checkAddress(funnel: Funnel, step: Step, context: PreflightContext): Finding[] {
  if (!hasPage(step.kind)) return []
  const fix: Fix = { go: "wiring", step: step.id }
  if (!isPath(step.path)) return [found("address-cannot-stand", step, { step: step.name, path: step.path }, fix)]
  const twin = funnel.steps.find((s) => s.id !== step.id && s.path === step.path && hasPage(s.kind))
  const other = context.taken.get(step.path)
  if (!twin && !other) return []
  const of = twin ? { step: twin.name } : { funnel: other! }
  return [found("address-used-twice", step, { path: step.path, step: step.name, twin: of }, fix)]
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
      .flatMap((e) => checkEffect(e, { step, funnel, context, free: facts.free === true })),
  ]
}
