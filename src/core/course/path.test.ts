import { describe, expect, it } from "vitest"
import { neighbours, nextLesson, progressOf } from "./path"

describe("a learner's way", () => {
  const lessons = [{ id: 1 }, { id: 2 }, { id: 3 }]
  it("goes on at the first that isn't done, and begins anew when all are", () => {
    expect(nextLesson(lessons, new Set([1]))?.id).toBe(2)
    expect(nextLesson(lessons, new Set([2]))?.id).toBe(1)
    expect(nextLesson(lessons, new Set([1, 2, 3]))?.id).toBe(1)
    expect(nextLesson([], new Set())).toBeUndefined()
  })
  it("counts only lessons that are there", () =>
    expect(progressOf(lessons, new Set([1, 99]))).toEqual({ done: 1, of: 3 }))
  it("knows what comes before and after", () => {
    expect(neighbours(lessons, 2)).toEqual({ before: { id: 1 }, after: { id: 3 } })
    expect(neighbours(lessons, 1).before).toBeUndefined()
    expect(neighbours(lessons, 9)).toEqual({})
  })
})
