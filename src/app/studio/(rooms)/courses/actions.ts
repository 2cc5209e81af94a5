"use server"

import { type Answer, answered, goTo } from "@/app/answer"
import { studio } from "@/app/guard"
import * as course from "@/server/course/course"
import { setDrip } from "@/server/course/drip"
import { saveSchoolGates, saveSignOut } from "@/server/course/gates"
import { answerHandIn } from "@/server/course/hand-in"
import { saveLessonPage } from "@/server/course/lesson-page"
import { endAdmission, mailWayIn } from "@/server/course/let-in"
import { copyCourse, saveOutline } from "@/server/course/outline"
import { addQuote, chooseQuote, portrayQuote } from "@/server/course/quote"
import { answerComment, setCommentState } from "@/server/course/talk"
import { tellNow } from "@/server/course/waiting"
import { newNotice, removeNotice, saveNotice } from "@/server/notice/notice"
import { makeOnce } from "@/server/once"
import type { Before } from "@/server/shared"

export const newCourseAction = async (_: Answer, form: FormData) =>
  goTo(
    "/studio/courses",
    makeOnce(await studio(), form.get("once"), (s) => course.newCourse(s, form.get("title"))),
  )

export const newNoticeAction = async (_: Answer, form: FormData) =>
  goTo(
    "/studio/courses/notices",
    makeOnce(await studio(), form.get("once"), (s) => newNotice(s, form.get("title"))),
  )

export const saveNoticeAction = async (id: number, input: unknown, before?: Before) =>
  saveNotice(await studio(), id, input, before)
export const removeNoticeAction = async (id: number) => answered(removeNotice(await studio(), id))
export const saveCourseAction = async (input: unknown, before?: Before) =>
  course.saveCourse(await studio(), input, before)
export const saveLessonPageAction = async (lesson: number, revision: number, page: unknown, base: unknown) =>
  saveLessonPage(await studio(), lesson, revision, page, base)
export const saveOutlineAction = async (input: unknown) => saveOutline(await studio(), input)
export const copyCourseAction = async (id: number, once: string) =>
  answered(makeOnce(await studio(), once, (s) => copyCourse(s, id)))
export const setDripAction = async (input: unknown) => answered(setDrip(await studio(), input))
export const saveModuleAction = async (id: number, opens: unknown) =>
  answered(course.saveModule(await studio(), id, opens))
export const saveLessonAction = async (input: unknown, before?: Before) =>
  course.saveLesson(await studio(), input, before)
export const saveSchoolGatesAction = async (gates: unknown) => answered(saveSchoolGates(await studio(), gates))
export const saveSignOutAction = async (step: number | null) => answered(saveSignOut(await studio(), step))
export const mailWayInAction = async (person: number, course: number) =>
  answered(mailWayIn(await studio(), person, course))
export const endAdmissionAction = async (id: number) => answered(endAdmission(await studio(), id))
export const tellWaitingAction = async (course: number) => answered(tellNow(await studio(), course))
export const answerCommentAction = async (id: number, body: string) => answered(answerComment(await studio(), id, body))
export const commentStateAction = async (id: number, state: "shown" | "hidden") =>
  answered(setCommentState(await studio(), id, state))
export const answerHandInAction = async (id: number, input: unknown) =>
  answered(answerHandIn(await studio(), id, input))

export const addQuoteAction = async (input: unknown) => answered(addQuote(await studio(), input))
export const chooseQuoteAction = async (quote: number, shown: boolean) =>
  answered(chooseQuote(await studio(), quote, shown))
export const portrayQuoteAction = async (quote: number, media: number | null) =>
  answered(portrayQuote(await studio(), quote, media))
