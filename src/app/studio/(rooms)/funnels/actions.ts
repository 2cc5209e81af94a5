"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { answered } from "@/app/answer"
import { studio } from "@/app/guard"
import { undo } from "@/server/funnel/change"
import * as edit from "@/server/funnel/edit"
import { mend } from "@/server/funnel/mend"
import { newFunnel } from "@/server/funnel/new-funnel"
import { bringBack, publishFunnel, unpublishFunnel } from "@/server/funnel/release"
import * as steps from "@/server/funnel/steps"
import { makeOnce } from "@/server/once"
import type { PageSaved } from "@/server/page/save"
import type { Made } from "@/server/saved"

export async function newFunnelAction(_: { refused?: string }, form: FormData): Promise<{ refused?: string }> {
  const number = (name: string) => Number(form.get(name)) || null
  const done = await makeOnce(await studio(), form.get("once"), async (s) => {
    const made = await newFunnel(s, {
      goal: form.get("goal"),
      course: number("course"),
      offer: number("offer"),
      further: number("further"),
      second: number("second"),
      webinar: number("webinar"),
    })
    return "refused" in made ? made : { ok: true, id: made.funnel }
  })
  if ("refused" in done) return { refused: done.refused }
  redirect(`/studio/funnels/${done.id}`)
}

export type Done = { readonly refused?: string; readonly field?: string }

async function placed(work: Promise<Made>): Promise<Done & { step?: number }> {
  const done = await work
  revalidatePath("/studio/funnels", "layout")
  return "refused" in done ? done : { step: done.id }
}

export async function publishAction(funnel: number, anyway: boolean): Promise<Done & { number?: number }> {
  const done = await publishFunnel(await studio(), funnel, anyway)
  revalidatePath("/studio/funnels", "layout")
  return "refused" in done ? { refused: done.refused } : { number: done.number }
}

export async function bringBackAction(funnel: number, release: number): Promise<Done & { number?: number }> {
  const done = await bringBack(await studio(), funnel, release)
  revalidatePath("/studio/funnels", "layout")
  return done
}

export async function unpublishAction(funnel: number): Promise<Done> {
  await unpublishFunnel(await studio(), funnel)
  revalidatePath("/studio/funnels", "layout")
  return {}
}

export const changeFunnelAction = async (input: { funnel: number; name?: string; againAfter?: number | null }) =>
  answered(edit.changeFunnel(await studio(), input))
export const changeStepAction = async (input: { step: number; name: string; path: string }) =>
  answered(edit.changeStep(await studio(), input))
export const leadOutcomeAction = async (input: { step: number; outcome: string; to: number | null }) =>
  answered(steps.leadOutcome(await studio(), input))
export const insertStepAction = async (input: unknown, once: string) =>
  placed(makeOnce(await studio(), once, (s) => steps.insertStep(s, input)))
export const copyStepAction = async (input: unknown, once: string) =>
  placed(makeOnce(await studio(), once, (s) => steps.copyStep(s, input)))
export const moveStepAction = async (input: unknown) => placed(steps.moveStep(await studio(), input))
export const removeStepAction = async (step: number) => answered(steps.removeStep(await studio(), step))
export const changeSellingAction = async (input: unknown) => answered(steps.changeSelling(await studio(), input))
export const takeBackAction = async (funnel: number, to: number) => answered(undo(await studio(), funnel, to))
export const addEffectAction = async (input: unknown) => answered(steps.addEffect(await studio(), input))
export const removeEffectAction = async (effect: number) => answered(steps.removeEffect(await studio(), effect))
export async function savePageAction(step: number, revision: number, page: unknown, base: unknown): Promise<PageSaved> {
  return edit.savePage(await studio(), step, revision, page, base)
}

export const wearAlikeAction = async (step: number, form: unknown) =>
  answered(edit.wearAlike(await studio(), step, form))

/** The one act that mends a finding of preflight. */
export const mendAction = async (fix: unknown) => answered(mend(await studio(), fix))
