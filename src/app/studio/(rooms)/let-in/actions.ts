"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/guard"
import type { Opened } from "@/server/course/admission"
import { endInvitation, newInvitation, takeBatchBack } from "@/server/course/let-in"
import { makeOnce } from "@/server/once"

export type Done = { readonly refused?: string; readonly field?: string; readonly id?: number }

async function told(work: Promise<object>): Promise<Done> {
  const done = await work
  revalidatePath("/studio", "layout")
  return done
}

export const takeBatchBackAction = async (of: Opened, batch: string) => told(takeBatchBack(await studio(), of, batch))
export const newInvitationAction = async (input: unknown, once: string) =>
  told(makeOnce(await studio(), once, (s) => newInvitation(s, input)))
export const endInvitationAction = async (id: number) => told(endInvitation(await studio(), id))
