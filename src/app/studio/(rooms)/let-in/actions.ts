"use server"

import { answered } from "@/app/answer"
import { studio } from "@/app/guard"
import type { Opened } from "@/server/course/admission"
import { endInvitation, newInvitation, takeBatchBack } from "@/server/course/let-in"
import { makeOnce } from "@/server/once"

export const takeBatchBackAction = async (of: Opened, batch: string) =>
  answered(takeBatchBack(await studio(), of, batch))
export const newInvitationAction = async (input: unknown, once: string) =>
  answered(makeOnce(await studio(), once, (s) => newInvitation(s, input)))
export const endInvitationAction = async (id: number) => answered(endInvitation(await studio(), id))
