"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { studio } from "@/app/guard"
import { makeOnce } from "@/server/once"
import { newField, removeField, renameField, saveChoices } from "@/server/person/field"
import type { Refused, Saved } from "@/server/saved"

export type Told = Partial<Refused>

function told(done: Saved): Told {
  revalidatePath("/studio", "layout")
  return "refused" in done ? done : {}
}

export async function newFieldAction(_: Told, form: FormData): Promise<Told> {
  const done = await makeOnce(await studio(), form.get("once"), (s) =>
    newField(s, { label: form.get("label"), kind: form.get("kind") }),
  )
  if ("refused" in done) return done
  revalidatePath("/studio", "layout")
  redirect(`/studio/people/fields?field=${done.id}`)
}

export const renameFieldAction = async (id: number, label: string) => told(await renameField(await studio(), id, label))
export const saveChoicesAction = async (id: number, choices: unknown) =>
  told(await saveChoices(await studio(), id, choices))
export const removeFieldAction = async (id: number) => told(await removeField(await studio(), id))
