"use server"

import { revalidatePath } from "next/cache"
import { notFound } from "next/navigation"
import { context } from "@/app/guard"
import { setName } from "@/standins/names/server"

export async function saveNameAction(_: undefined, form: FormData): Promise<void> {
  const { config } = context()
  if (!config.nameServer) notFound()
  const name = String(form.get("name") ?? "").trim()
  const texts = String(form.get("texts") ?? "")
    .split(/\r?\n/)
    .map((t) => t.trim())
    .filter(Boolean)
  if (/^[\w.-]{1,250}$/.test(name)) await setName(config.dataFolder, name, texts)
  revalidatePath("/standins/names")
}
