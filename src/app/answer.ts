// What a screen hears of what it asked for, in one shape.
import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import type { Made, Refused } from "@/server/saved"

/** Why it was refused, and at which field; or the number of what was made. */
export type Answer = { readonly refused?: string; readonly field?: string; readonly id?: number }

/** Waits for the work; every page that is shown is read anew. */
export async function answered(work: Promise<unknown>): Promise<Answer> {
  const { refused, field, id } = ((await work) ?? {}) as Answer
  revalidatePath("/", "layout")
  return { ...(refused === undefined ? {} : { refused }), ...(field ? { field } : {}), ...(id ? { id } : {}) }
}

/** Goes on to what was made, below an address. */
export async function goTo(address: string, work: Promise<Made | Refused>): Promise<Answer> {
  const made = await answered(work)
  if (made.id) redirect(`${address}/${made.id}`)
  return made
}
