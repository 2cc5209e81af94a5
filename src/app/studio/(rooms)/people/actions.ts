"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/door"
import { type Found, otherPerson, part, unite } from "@/server/person/unite"
import type { Refused } from "@/server/saved"

export async function findOtherAction(person: number, email: string): Promise<Found | Refused> {
  return otherPerson((await studio()).db, person, email)
}

export async function uniteAction(person: number, other: number): Promise<{ refused?: string }> {
  const done = await unite(await studio(), person, other)
  revalidatePath("/studio/people", "layout")
  return "refused" in done ? done : {}
}

export async function partAction(united: number): Promise<{ refused?: string }> {
  const done = await part(await studio(), united)
  revalidatePath("/studio/people", "layout")
  return "refused" in done ? done : {}
}
