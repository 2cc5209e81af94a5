"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/door"
import { removeTag } from "@/server/person/tag"

export async function removeTagAction(tag: number): Promise<void> {
  await removeTag(await studio(), tag)
  revalidatePath("/studio", "layout")
}
