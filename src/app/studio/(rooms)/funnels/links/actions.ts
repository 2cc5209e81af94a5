"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/guard"
import { makeTrackedLink, removeTrackedLink } from "@/server/funnel/tracked-link"

export type Told = { readonly refused?: string; readonly field?: string }

export async function makeLinkAction(_: Told, form: FormData): Promise<Told> {
  const done = await makeTrackedLink(await studio(), {
    step: Number(form.get("step")),
    source: String(form.get("source") ?? ""),
    campaign: String(form.get("campaign") ?? ""),
  })
  revalidatePath("/studio/funnels/links")
  return "refused" in done ? done : {}
}

export async function removeLinkAction(link: number): Promise<void> {
  await removeTrackedLink(await studio(), link)
  revalidatePath("/studio/funnels/links")
}
