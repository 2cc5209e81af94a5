"use server"

import { revalidatePath } from "next/cache"
import { answered } from "@/app/answer"
import { studio } from "@/app/guard"
import { makeSigningKey, saveInclude } from "@/server/mail/dkim"
import { savePace } from "@/server/mail/pace"
import { tryAgain } from "@/server/mail/report"

export async function makeKeyAction(): Promise<void> {
  await makeSigningKey(await studio())
  revalidatePath("/studio/mail", "layout")
}

export const saveIncludeAction = async (_: { refused?: string }, form: FormData) =>
  answered(saveInclude(await studio(), form.get("include")))

export async function savePaceAction(
  _: { refused?: string; field?: string },
  form: FormData,
): Promise<{ refused?: string; field?: string; saved?: boolean }> {
  const rate = (name: string) => (form.get(name) ? Number(form.get(name)) : null)
  const done = await savePace(await studio(), { perSecond: rate("perSecond"), perDomain: rate("perDomain") })
  revalidatePath("/studio/mail", "layout")
  return "refused" in done ? done : { saved: true }
}

export async function tryAgainAction(email: string): Promise<void> {
  await tryAgain(await studio(), email)
  revalidatePath("/studio/mail", "layout")
}
