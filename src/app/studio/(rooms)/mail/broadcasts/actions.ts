"use server"

import { revalidatePath } from "next/cache"
import { type Answer, goTo } from "@/app/answer"
import { studio } from "@/app/guard"
import type { Broadcast } from "@/core/mail/broadcast"
import { countReaders, planBroadcast, turnBroadcast } from "@/server/broadcast/plan"
import { reached } from "@/server/broadcast/reached"
import { newBroadcast, removeBroadcast, saveBroadcast, saveBroadcastPage } from "@/server/broadcast/store"
import { pauseMail, resumeMail, saveSendingRules } from "@/server/mail/hold"
import { makeOnce } from "@/server/once"
import type { Refused } from "@/server/saved"
import type { Before } from "@/server/shared"

type Done = { readonly refused?: string }

async function done(of: Promise<{ readonly ok: true } | Refused>): Promise<Done> {
  const came = await of
  revalidatePath("/studio", "layout")
  return "refused" in came ? { refused: came.refused } : {}
}

export const newBroadcastAction = async (_: Answer, form: FormData) =>
  goTo(
    "/studio/mail/broadcasts",
    makeOnce(await studio(), form.get("once"), (s) => newBroadcast(s, form.get("name"))),
  )

export const saveBroadcastAction = async (id: number, input: unknown, before?: Before) =>
  saveBroadcast(await studio(), id, input, before)
export const saveBroadcastPageAction = async (id: number, revision: number, page: unknown, base: unknown) =>
  saveBroadcastPage(await studio(), id, revision, page, base)
export const removeBroadcastAction = async (id: number) => done(removeBroadcast(await studio(), id))
export const planBroadcastAction = async (id: number) => done(planBroadcast(await studio(), id))
export const turnBroadcastAction = async (id: number, to: "pause" | "go-on" | "stop") =>
  done(turnBroadcast(await studio(), id, to))
export const reachedAction = async (id: number, email: string) => reached(await studio(), id, String(email))
export const countReadersAction = async (d: Pick<Broadcast, "to" | "less">) => countReaders(await studio(), d)

export const saveSendingRulesAction = async (input: unknown) => done(saveSendingRules(await studio(), input))
export const pauseMailAction = async (person: number | null) => done(pauseMail(await studio(), person))
export const resumeMailAction = async (person: number | null) => done(resumeMail(await studio(), person))
