"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { studio } from "@/app/guard"
import * as course from "@/server/course/course"
import { setDrip } from "@/server/course/drip"
import { saveSchoolGates, saveSignOut } from "@/server/course/gates"
import { answerHandIn } from "@/server/course/hand-in"
import { saveLessonPage } from "@/server/course/lesson-page"
import { endAdmission, mailWayIn } from "@/server/course/let-in"
import { copyCourse, saveOutline } from "@/server/course/outline"
import { answerComment, setCommentState } from "@/server/course/talk"
import { newNotice, removeNotice, saveNotice } from "@/server/notice/notice"
import { makeOnce } from "@/server/once"
import type { Made, Saved } from "@/server/saved"
import type { Before } from "@/server/shared"

export type Done = { readonly refused?: string; readonly field?: string; readonly id?: number }

async function saved(work: Promise<Saved | Made>): Promise<Done> {
  const done = await work
  revalidatePath("/studio/courses", "layout")
  return "refused" in done ? { refused: done.refused, field: done.field } : "id" in done ? { id: done.id } : {}
}

export async function newCourseAction(_: Done, form: FormData): Promise<Done> {
  const done = await saved(makeOnce(await studio(), form.get("once"), (s) => course.newCourse(s, form.get("title"))))
  if (done.id) redirect(`/studio/courses/${done.id}`)
  return done
}

export async function newNoticeAction(_: Done, form: FormData): Promise<Done> {
  const done = await saved(makeOnce(await studio(), form.get("once"), (s) => newNotice(s, form.get("title"))))
  if (done.id) redirect(`/studio/courses/notices/${done.id}`)
  return done
}

export const saveNoticeAction = async (id: number, input: unknown, before?: Before) =>
  saveNotice(await studio(), id, input, before)
export const removeNoticeAction = async (id: number) => saved(removeNotice(await studio(), id))
export const saveCourseAction = async (input: unknown, before?: Before) =>
  course.saveCourse(await studio(), input, before)
export const saveLessonPageAction = async (lesson: number, revision: number, page: unknown, base: unknown) =>
  saveLessonPage(await studio(), lesson, revision, page, base)
export const saveOutlineAction = async (input: unknown) => saveOutline(await studio(), input)
export const copyCourseAction = async (id: number, once: string) =>
  saved(makeOnce(await studio(), once, (s) => copyCourse(s, id)))
export const setDripAction = async (input: unknown) => saved(setDrip(await studio(), input))
export const saveModuleAction = async (id: number, opens: unknown) =>
  saved(course.saveModule(await studio(), id, opens))
export const saveLessonAction = async (input: unknown, before?: Before) =>
  course.saveLesson(await studio(), input, before)
export const saveSchoolGatesAction = async (gates: unknown) => saved(saveSchoolGates(await studio(), gates))
export const saveSignOutAction = async (step: number | null) => saved(saveSignOut(await studio(), step))
export const mailWayInAction = async (person: number, course: number) =>
  saved(mailWayIn(await studio(), person, course))
export const endAdmissionAction = async (id: number) => saved(endAdmission(await studio(), id))
export const answerCommentAction = async (id: number, body: string) => saved(answerComment(await studio(), id, body))
export const commentStateAction = async (id: number, state: "shown" | "hidden") =>
  saved(setCommentState(await studio(), id, state))
export const answerHandInAction = async (id: number, input: unknown) => saved(answerHandIn(await studio(), id, input))
