"use server"

import { answered } from "@/app/answer"
import { studio } from "@/app/guard"
import { mergeTags, removeTag, renameTag } from "@/server/person/tag"

export const removeTagAction = async (tag: number) => answered(removeTag(await studio(), tag))
export const renameTagAction = async (tag: number, name: string) => answered(renameTag(await studio(), tag, name))
export const mergeTagsAction = async (tag: number, into: number) => answered(mergeTags(await studio(), tag, into))
