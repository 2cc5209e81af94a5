"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { type Answer, answered, goTo } from "@/app/answer"
import { studio } from "@/app/guard"
import type { Segment } from "@/core/person/segment/segment"
import { refusals } from "@/core/words/refusals"
import { newBroadcast } from "@/server/broadcast/store"
import { makeOnce } from "@/server/once"
import { tryQuestion } from "@/server/person/count"
import { erasePerson } from "@/server/person/erase"
import { setField } from "@/server/person/field"
import { startImport, takeBackImport } from "@/server/person/import"
import { newSegment, readSegment, removeSegment, saveSegment } from "@/server/person/segment"
import { type FoundPerson, otherPerson, partPersons, unite } from "@/server/person/unite"
import type { Refused } from "@/server/saved"
import type { Before } from "@/server/shared"

export async function findOtherAction(person: number, email: string): Promise<FoundPerson | Refused> {
  return otherPerson((await studio()).db, person, email)
}

export const uniteAction = async (person: number, other: number) => answered(unite(await studio(), person, other))

export const partAction = async (united: number) => answered(partPersons(await studio(), united))

export const newSegmentAction = async (_: Answer, form: FormData) =>
  goTo(
    "/studio/people/segments",
    makeOnce(await studio(), form.get("once"), (s) => newSegment(s, form.get("name"))),
  )

export const saveSegmentAction = async (id: number, input: unknown, before?: Before) =>
  saveSegment(await studio(), id, input, before)
export const tryQuestionAction = async (question: unknown) => tryQuestion(await studio(), question)
export const countExactlyAction = async (question: unknown) => tryQuestion(await studio(), question, "exactly")
/** A broadcast to a segment, as a draft. */
export async function writeToSegmentAction(id: number, once: string): Promise<{ refused?: string }> {
  const s = await studio()
  const segment = await readSegment(s.db, id)
  if (!segment) return { refused: refusals.gone.thing }
  const to: Segment = { match: "all", parts: [{ kind: "segment", segment: id, is: true }] }
  const made = await makeOnce(s, once, (x) => newBroadcast(x, segment.value.name, to))
  if ("refused" in made) return { refused: made.refused }
  redirect(`/studio/mail/broadcasts/${made.id}`)
}

export async function removeSegmentAction(id: number): Promise<{ refused?: string }> {
  const done = await removeSegment(await studio(), id)
  revalidatePath("/studio/people", "layout")
  return "refused" in done ? done : {}
}

export const startImportAction = async (id: number, plan: unknown) => answered(startImport(await studio(), id, plan))

export const takeBackImportAction = async (id: number) => answered(takeBackImport(await studio(), id))

export const setFieldAction = async (person: number, field: number, typed: string) =>
  answered(setField(await studio(), person, field, typed))

export const erasePersonAction = async (person: number) => answered(erasePerson(await studio(), person))
