"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/door"
import { makeSigningKey, saveInclude } from "@/server/mail/dkim"
import { tryAgain } from "@/server/mail/report"

export async function makeKeyAction(): Promise<void> {
  await makeSigningKey(await studio())
  revalidatePath("/studio/mail", "layout")
}

export async function saveIncludeAction(_: { refused?: string }, form: FormData): Promise<{ refused?: string }> {
  const done = await saveInclude(await studio(), form.get("include"))
  revalidatePath("/studio/mail", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export async function tryAgainAction(email: string): Promise<void> {
  await tryAgain(await studio(), email)
  revalidatePath("/studio/mail", "layout")
}
