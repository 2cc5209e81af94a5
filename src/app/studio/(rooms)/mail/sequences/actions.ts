"use server"

import { revalidatePath } from "next/cache"
import * as v from "valibot"
import { type Answer, answered, goTo } from "@/app/answer"
import { studio } from "@/app/guard"
import { segmentSchema } from "@/core/person/segment/segment"
import { makeOnce } from "@/server/once"
import type { Refused } from "@/server/saved"
import * as edit from "@/server/sequence/edit"
import { type GoalMet, goalMet, isNearlyEverybody } from "@/server/sequence/goal"
import * as live from "@/server/sequence/live"
import { saveSequenceMailPage } from "@/server/sequence/mail-page"
import * as people from "@/server/sequence/people"
import { planBeginning, removePlanned } from "@/server/sequence/planned"
import { reachedBy } from "@/server/sequence/reached"
import { loadSequence } from "@/server/sequence/store"
import type { Before } from "@/server/shared"

type Done = { readonly refused?: string }

async function done(of: Promise<{ readonly ok: true } | Refused>): Promise<Done> {
  const came = await of
  revalidatePath("/studio", "layout")
  return "refused" in came ? { refused: came.refused } : {}
}

export const newSequenceAction = async (_: Answer, form: FormData) =>
  goTo(
    "/studio/mail/sequences",
    makeOnce(await studio(), form.get("once"), (s) => edit.newSequence(s, form.get("name"))),
  )

export const saveSequenceAction = async (id: number, input: unknown, before?: Before) =>
  edit.saveSequence(await studio(), id, input, before)
export const saveMailAction = async (input: unknown, before?: Before) => edit.saveMail(await studio(), input, before)
export const saveMailPageAction = async (mail: number, revision: number, page: unknown, base: unknown) =>
  saveSequenceMailPage(await studio(), mail, revision, page, base)
export const addLetterAction = async (sequence: number, like: number | null) =>
  edit.addLetter(await studio(), sequence, like)
export const copyFromAction = async (from: { sequence: number; step: number }, to: number, once: string) =>
  done(makeOnce(await studio(), once, (s) => edit.copySequenceStep(s, from, to)))
export const removeSequenceAction = async (id: number) => done(live.removeSequence(await studio(), id))

export const putLiveAction = async (id: number, replan: live.Replan) => done(live.putLive(await studio(), id, replan))
export const pauseAction = async (id: number) => done(live.pauseSequence(await studio(), id))
export const resumeAction = async (id: number) => done(live.resumeSequence(await studio(), id))
/** How many are at a goal as it is typed, or null where it can't be asked. */
export async function goalMetAction(goal: unknown): Promise<GoalMet | null> {
  const read = v.safeParse(segmentSchema, goal)
  return read.success ? goalMet(await studio(), read.output) : null
}
/** The same of a sequence's own goal, where nearly everybody is at it: it would begin for hardly anybody. */
export async function nearlyAllAtGoalAction(id: number): Promise<GoalMet | null> {
  const s = await studio()
  const goal = (await loadSequence(s.db, id))?.flow.goal
  const met = goal ? await goalMet(s, goal) : null
  return met && isNearlyEverybody(met) ? met : null
}
export async function whatItDoesAction(id: number): Promise<live.Effected[]> {
  const s = await studio()
  const q = await loadSequence(s.db, id)
  return q ? live.whatItDoes(s.db, q) : []
}

export const peopleAtAction = async (sequence: number, step: number) =>
  people.peopleAt((await studio()).db, sequence, step)
export const movePeopleAction = async (input: unknown) => done(people.movePeople(await studio(), input))
export const reachedAction = async (mail: number, email: string) => reachedBy(await studio(), mail, String(email))
export const planBeginningAction = async (typed: unknown, once: string) =>
  answered(makeOnce(await studio(), once, (s) => planBeginning(s, typed)))
export const removePlannedAction = async (planned: number) => answered(removePlanned(await studio(), planned))
export async function beginForAction(sequence: number, question: unknown) {
  const came = await people.beginFor(await studio(), sequence, question)
  revalidatePath("/studio", "layout")
  return came
}
