"use server"

import { type Answer, answered } from "@/app/answer"
import { studio } from "@/app/guard"
import { sectionEverywhere } from "@/server/funnel/release"
import { keepSection, publishSection, removeSection, renameSection, saveSection } from "@/server/page/kept"
import type { PageSaved } from "@/server/page/save"

export const keepSectionAction = async (name: string, blocks: unknown): Promise<Answer> =>
  answered(keepSection(await studio(), { name, blocks }))

export const renameSectionAction = async (id: number, name: string): Promise<Answer> =>
  answered(renameSection(await studio(), Number(id), name))

export const removeSectionAction = async (id: number): Promise<Answer> =>
  answered(removeSection(await studio(), Number(id)))

export async function saveSectionAction(
  id: number,
  revision: number,
  page: unknown,
  base: unknown,
): Promise<PageSaved> {
  return saveSection(await studio(), Number(id), Number(revision), page, base)
}

/** Lessons show it at once; live pages are put out again with what stood on them. */
export async function publishSectionAction(id: number): Promise<Answer> {
  const s = await studio()
  const publish = async () => {
    const done = await publishSection(s, Number(id))
    if (!("refused" in done)) await sectionEverywhere(s, Number(id))
    return done
  }
  return answered(publish())
}
