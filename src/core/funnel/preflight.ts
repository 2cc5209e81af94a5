// Preflight: the funnel is checked like a program before visitors run it. Each finding says what a visitor would
// suffer, where, and what mends it.

import { giftsOf } from "../offer/offer"
import { targetAddress } from "../page/compile"
import { allBlocks } from "../page/document"
import { type CourseCard, type Funnel, type SequenceMail, type Step, stepById } from "./draft"
import { leadsNowhere, type Outcome, outcomes, outcomesOf, stepKinds } from "./kinds"
import { checkSelling, type SellingContext } from "./preflight-selling"
import { checkWords, type MailState } from "./preflight-words"
import { isPath } from "./slug"

export type Rule =
  | "outcome-leads-nowhere"
  | "circle-without-way-out"
  | "form-starts-nothing"
  | "page-without-form"
  | "course-not-ready"
  | "sequence-not-ready"
  | "button-without-target"
  | "sequence-cannot-be-left"
  | "sequence-without-sender"
  | "address-used-twice"
  | "address-cannot-stand"
  | "page-without-title"
  | "picture-without-words"
  | "offer-missing"
  | "price-of-another"
  | "offer-gives-nothing"
  | "offer-not-to-be-had"
  | "paid-form-charges-nothing"
  | "free-form-gives-paid"
  | "no-processor"
  | "no-statement-text"
  | "currencies-mixed"
  | "offer-twice-on-a-path"
  | "already-in-the-bundle"
  | "second-chance-not-cheaper"
  | "no-card-to-charge"
  | "path-misses-the-welcome"
  | "many-further-offers"
  | "no-mail-server"
  | "words-to-write"
  | "wrong-sum"
  | "nobody-reaches-it"
  | "lesson-without-mail"

/** The place in the studio where it is mended, or the one act that mends it. */
export type Fix =
  | { readonly go: "page"; readonly step: number; readonly block?: string }
  | { readonly go: "wiring"; readonly step: number }
  | { readonly go: "course"; readonly course: number }
  | { readonly go: "sequence"; readonly sequence: number }
  | { readonly go: "offer"; readonly offer: number }
  | { readonly go: "settings" | "mail" | "cards" }
  | { readonly act: "lead-on"; readonly step: number; readonly outcome: Outcome; readonly to: number }
  | { readonly act: "course-live"; readonly course: number }
  | { readonly act: "sequence-live"; readonly sequence: number }
  | { readonly act: "write-mail"; readonly sequence: number; readonly lesson: number }
  | { readonly act: "count-mails"; readonly sequence: number }

export type Finding = {
  readonly rule: Rule
  /** What stops would hurt a visitor; advice would not. */
  readonly weight: "stop" | "advice"
  /** The step it shows at on the river. */
  readonly step: number | null
  readonly where: string
  readonly suffers: string
  readonly fix: Fix
  readonly says: string
}

export type PreflightContext = {
  readonly sender: { readonly name: string; readonly email: string }
  /** Addresses of other funnels' pages, with the funnel's name. */
  readonly taken: ReadonlyMap<string, string>
  readonly selling: SellingContext
  readonly mail: MailState
}

/** All findings, those that stop first, in the order of the steps. */
export function preflight(funnel: Funnel, context: PreflightContext): Finding[] {
  const found = [
    ...funnel.steps.flatMap((step) => [
      ...checkOutcomes(funnel, step),
      ...checkPage(funnel, step),
      ...checkAddress(funnel, step, context),
      ...checkCourses(funnel, step, context),
    ]),
    ...checkCircles(funnel),
    ...checkSequences(funnel, context),
    ...checkSelling(funnel, context.selling),
    ...checkWords(funnel, context.mail),
  ]
  // A course that two steps open is one thing to fix.
  const once = found.filter((f, i) => found.findIndex((g) => g.rule === f.rule && g.suffers === f.suffers) === i)
  return once.sort((a, b) => Number(a.weight === "advice") - Number(b.weight === "advice"))
}

function checkOutcomes(funnel: Funnel, step: Step): Finding[] {
  return outcomesOf(step.kind).flatMap((outcome): Finding[] => {
    if (leadsNowhere.includes(outcome)) return []
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
  const reaches = new Set(funnel.steps.filter((s) => outcomesOf(s.kind).length === 0).map((s) => s.id))
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

function checkPage(funnel: Funnel, step: Step): Finding[] {
  if (!step.page) return []
  const found: Finding[] = []
  const blocks = [...allBlocks(step.page.blocks)]
  const at = (block?: string): Fix => ({ go: "page", step: step.id, ...(block ? { block } : {}) })
  if (!step.page.title.trim())
    found.push({
      rule: "page-without-title",
      weight: "stop",
      step: step.id,
      where: step.name,
      suffers: `“${step.name}” has no title: in the browser's tab and in a search it shows as a bare address.`,
      fix: at(),
      says: "Write a title",
    })
  for (const b of blocks) {
    if (b.kind === "button" && targetAddress(b.leads, step, funnel) === null)
      found.push({
        rule: "button-without-target",
        weight: "stop",
        step: step.id,
        where: step.name,
        suffers: `The button “${b.says}” on “${step.name}” does nothing when pressed.`,
        fix: at(b.id),
        says: "Choose where it leads",
      })
    if (b.kind === "picture" && b.media !== null && !b.alt.trim())
      found.push({
        rule: "picture-without-words",
        weight: "advice",
        step: step.id,
        where: step.name,
        suffers: `Whoever can't see the picture on “${step.name}” doesn't learn what it shows.`,
        fix: at(b.id),
        says: "Say what it shows",
      })
  }
  if (outcomesOf(step.kind).includes("joined"))
    found.push(
      ...checkForm(
        funnel,
        step,
        blocks.some((b) => b.kind === "form"),
      ),
    )
  return found
}

function checkForm(funnel: Funnel, step: Step, hasForm: boolean): Finding[] {
  if (!hasForm)
    return [
      {
        rule: "page-without-form",
        weight: "stop",
        step: step.id,
        where: step.name,
        suffers: `Nobody can join on “${step.name}”: it has no form.`,
        fix: { go: "page", step: step.id },
        says: "Add a form",
      },
    ]
  const to = stepById(funnel, funnel.streams.find((s) => s.from === step.id && s.outcome === "joined")?.to ?? null)
  const sets = funnel.effects.some((e) => e.step === step.id || e.step === to?.id)
  const on = to && outcomesOf(to.kind).length > 0
  if (sets || (on && to.kind !== "inbox")) return []
  return [
    {
      rule: "form-starts-nothing",
      weight: "stop",
      step: step.id,
      where: step.name,
      suffers: `Whoever fills in the form on “${step.name}” gets nothing for it: no course opens and no e-mail comes.`,
      fix: { go: "wiring", step: to?.id ?? step.id },
      says: "Choose what it sets off",
    },
  ]
}

function checkAddress(funnel: Funnel, step: Step, context: PreflightContext): Finding[] {
  if (!stepKinds[step.kind].page) return []
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
  const twin = funnel.steps.find((s) => s.id !== step.id && s.path === step.path && stepKinds[s.kind].page)
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

function checkCourses(funnel: Funnel, step: Step, context: PreflightContext): Finding[] {
  const opened = funnel.effects.filter((e) => e.step === step.id && e.kind === "open-course").map((e) => e.subject)
  if (step.courseId !== null) opened.push(step.courseId)
  // What gives files or something by post needs no course: it stands in the learning area by itself.
  if (step.kind === "learning" && step.courseId === null && !givesWithoutCourse(funnel, context))
    return [
      {
        rule: "course-not-ready",
        weight: "stop",
        step: step.id,
        where: step.name,
        suffers: "People reach the learning area and find no course there.",
        fix: { go: "wiring", step: step.id },
        says: "Choose a course",
      },
    ]
  return [...new Set(opened)].flatMap((id) => {
    const course = funnel.courses.find((c) => c.id === id)
    return course ? checkCourse(course, step) : []
  })
}

function givesWithoutCourse(funnel: Funnel, context: PreflightContext): boolean {
  return funnel.steps.some((s) => {
    const offer = s.kind === "checkout" && s.offerId !== null ? context.selling.offers.get(s.offerId) : undefined
    const gifts = offer ? giftsOf(offer, context.selling.offers) : []
    return gifts.length > 0 && gifts.every((g) => g.kind !== "course")
  })
}

function checkCourse(course: CourseCard, step: Step): Finding[] {
  const base = { rule: "course-not-ready", weight: "stop", step: step.id, where: course.title } as const
  if (!course.lessons.some((l) => l.state === "live"))
    return [
      {
        ...base,
        suffers: `“${course.title}” opens, and there is nothing in it: no lesson is live.`,
        fix: { go: "course", course: course.id },
        says: "Put a lesson live",
      },
    ]
  if (course.state === "draft")
    return [
      {
        ...base,
        suffers: `“${course.title}” is still a draft: people who were let in stand before a closed door.`,
        fix: { act: "course-live", course: course.id },
        says: "Put the course live",
      },
    ]
  return []
}

function checkSequences(funnel: Funnel, context: PreflightContext): Finding[] {
  const used = funnel.sequences.filter((s) =>
    funnel.effects.some((e) => e.kind === "begin-sequence" && e.subject === s.id),
  )
  return used.flatMap((sequence): Finding[] => {
    const step = funnel.effects.find((e) => e.kind === "begin-sequence" && e.subject === sequence.id)!.step
    const base = { weight: "stop", step, where: sequence.name } as const
    const at: Fix = { go: "sequence", sequence: sequence.id }
    const found: Finding[] = []
    const blank = sequence.mails.find((m) => !m.subject.trim() || !m.body.replace(/<[^>]*>/g, "").trim())
    if (sequence.mails.length === 0)
      found.push({
        ...base,
        rule: "sequence-not-ready",
        suffers: `“${sequence.name}” begins, and no e-mail ever comes: it is empty.`,
        fix: at,
        says: "Write the first e-mail",
      })
    else if (blank)
      found.push({
        ...base,
        rule: "sequence-not-ready",
        suffers: `An e-mail of “${sequence.name}” would come without ${blank.subject.trim() ? "a word in it" : "a subject"}.`,
        fix: at,
        says: "Finish it",
      })
    if (sequence.mails.length > 0 && sequence.state === "draft")
      found.push({
        ...base,
        rule: "sequence-not-ready",
        suffers: `“${sequence.name}” is still a draft: the promised e-mails don't come.`,
        fix: { act: "sequence-live", sequence: sequence.id },
        says: "Put the sequence live",
      })
    for (const mail of sequence.mails) found.push(...checkMailButton(funnel, mail, base, at))
    if (!sequence.leaveLine.trim())
      found.push({
        ...base,
        rule: "sequence-cannot-be-left",
        suffers: `Readers of “${sequence.name}” find no link to unsubscribe.`,
        fix: at,
        says: "Write the line of the link",
      })
    if (!context.sender.email || !context.sender.name)
      found.push({
        ...base,
        rule: "sequence-without-sender",
        suffers: `Nobody can tell who “${sequence.name}” comes from: the school has no sender yet.`,
        fix: { go: "settings" },
        says: "Enter the sender",
      })
    return found
  })
}

/** Where a mail's button leads: a lesson that is there, and live. */
function checkMailButton(
  funnel: Funnel,
  mail: SequenceMail,
  base: Pick<Finding, "weight" | "step" | "where">,
  fix: Fix,
): Finding[] {
  const subject = mail.subject || "an e-mail"
  const course = funnel.courses.find((c) => c.lessons.some((l) => l.id === mail.lessonId))
  if (mail.button && !course && !stepById(funnel, mail.stepId))
    return [
      {
        ...base,
        rule: "button-without-target",
        suffers: `The button “${mail.button}” in “${subject}” leads nowhere, and is left out.`,
        fix,
        says: "Choose where it leads",
      },
    ]
  const lesson = course?.lessons.find((l) => l.id === mail.lessonId)
  // Where no lesson is live at all, the course says so itself.
  if (lesson?.state !== "draft" || !course?.lessons.some((l) => l.state === "live")) return []
  return [
    {
      ...base,
      rule: "course-not-ready",
      suffers: `“${subject}” sends people to the lesson “${lesson.title}”, which is still a draft: they stand before a closed door.`,
      fix: { go: "course", course: course.id },
      says: "Put the lesson live",
    },
  ]
}
