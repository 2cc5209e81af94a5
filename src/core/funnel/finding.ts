// What preflight knows of what a funnel leads to, and what can be wrong with its courses.

import type { CourseCard } from "../course/card"
import { type Finding, type Fix, found } from "../finding"
import type { SellingContext } from "../offer/finding"
import type { Step } from "./draft"

export type PreflightContext = {
  readonly sender: { readonly name: string; readonly email: string }
  /** Addresses of other funnels' pages, with the funnel's name. */
  readonly taken: ReadonlyMap<string, string>
  readonly selling: SellingContext
  readonly mail: MailState
  /** Webinars that its steps are about, as they are now. */
  readonly webinars: ReadonlyMap<number, WebinarFacts>
  /** Programmes for affiliates, by their offer. */
  readonly programmes: ReadonlyMap<number, ProgrammeFacts>
  /** What is wrong with the ways into courses, by course; none: nothing is. */
  readonly doors: ReadonlyMap<number, CourseDoors>
}

/** What a programme is, and what it lacks, in words; nothing of one that is off. */
export type ProgrammeFacts = { readonly name: string; readonly on: boolean; readonly lacks: readonly string[] }

/** `toCome`: how many dates there are from now on; one that begins whenever it suits always has some. */
export type WebinarFacts = {
  readonly title: string
  readonly host: string
  readonly toCome: number
  readonly anyTime: boolean
  /** Of those to come, how many have a seat free; as many where there is no limit. */
  readonly free: number
  /** Held live; `meeting`: a meeting service is connected. */
  readonly live: boolean
  readonly meeting: boolean
  /** Whether what it plays is there. */
  readonly recording: boolean
  /** Whether there is something for its replay to play, and for how many days it is there. */
  readonly replay: boolean
  readonly replayDays: number | null
  readonly offer: number | null
  /** When the next date begins, and when the price of its seats and its replay end, where the school is; ms, null: there is none. */
  readonly next: { readonly starts: number; readonly deal: number | null; readonly replay: number | null } | null
  /** The end of the coupon that its seats give, ms; null: it has none. */
  readonly couponUntil: number | null
  /** Sequences that wait for its start and may write about it when it has begun, by number and name. */
  readonly late: readonly { readonly sequence: number; readonly name: string }[]
}

/**
 * Whether it is closed to newcomers, or to those who sign up by a form; by their names lessons that can never open, pages that
 * gates lead to and that aren't live, and live lessons with nothing in them.
 */
export type CourseDoors = {
  readonly closed: boolean
  readonly signUpClosed: boolean
  readonly never: readonly string[]
  readonly dead: readonly string[]
  readonly empty: readonly string[]
}

/** How mail goes out: well, through no server at all, or what the server answered to the last test. */
export type MailState = "well" | "none" | { readonly refused: string }

/** Lessons of a course that nobody can ever open, and gates before it that lead nowhere. */
export function checkCoursePages(course: CourseCard, step: Step, doors: CourseDoors | undefined): Finding[] {
  const at = { where: course.title }
  return [
    ...(doors?.closed
      ? [
          found(
            "course-closed",
            step,
            { course: course.title },
            { go: "course", course: course.id, room: "settings" },
            at,
          ),
        ]
      : []),
    ...(doors?.never ?? []).map((lesson) =>
      found(
        "lesson-never-opens",
        step,
        { lesson, course: course.title },
        { go: "course", course: course.id, room: "opens" },
        at,
      ),
    ),
    ...(doors?.dead ?? []).map((page) =>
      found(
        "gate-leads-nowhere",
        step,
        { page, course: course.title },
        { go: "course", course: course.id, room: "without-access" },
        { ...at, weight: "advice" },
      ),
    ),
  ]
}

/** Lessons of a course that is promised at a step, live with nothing in them. */
export function checkEmpty(course: number, title: string, step: Step, doors: CourseDoors | undefined): Finding[] {
  if (!doors?.empty.length) return []
  const [lesson, ...more] = doors.empty
  const data = { course: title, lesson: lesson!, more: more.length }
  return [found("lesson-empty", step, data, { go: "course", course }, { where: title })]
}

/** A course that opens where a step leads. */
export function checkCourse(course: CourseCard, step: Step): Finding[] {
  const empty = !course.lessons.some((l) => l.state === "live")
  if (!empty && course.state !== "draft") return []
  const data = { why: empty ? "empty" : "draft", course: course.title } as const
  const fix: Fix = empty ? { go: "course", course: course.id } : { act: "course-live", course: course.id }
  return [found("course-not-ready", step, data, fix, { where: course.title })]
}
