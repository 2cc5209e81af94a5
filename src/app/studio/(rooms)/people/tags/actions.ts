"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/guard"
import { mergeTags, removeTag, renameTag } from "@/server/person/tag"
import type { Saved } from "@/server/saved"

async function told(work: Promise<Saved>): Promise<{ refused?: string }> {
  const done = await work
  revalidatePath("/studio", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export const removeTagAction = async (tag: number) => told(removeTag(await studio(), tag))
export const renameTagAction = async (tag: number, name: string) => told(renameTag(await studio(), tag, name))
export const mergeTagsAction = async (tag: number, into: number) => told(mergeTags(await studio(), tag, into))
