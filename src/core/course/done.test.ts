import { describe, expect, it } from "vitest"
import { doneByOf, isComplete } from "./done"

describe("what is done", () => {
  const lessons = [
    { id: 1, required: true },
    { id: 2, required: false },
    { id: 3, required: true },
  ]
  it("is all that is required, or all where nothing is", () => {
    expect(isComplete(lessons, new Set([1, 3]))).toBe(true)
    expect(isComplete(lessons, new Set([1, 2]))).toBe(false)
    const optional = lessons.map((l) => ({ ...l, required: false }))
    expect(isComplete(optional, new Set([1, 3]))).toBe(false)
    expect(isComplete(optional, new Set([1, 2, 3]))).toBe(true)
    expect(isComplete([], new Set([1]))).toBe(false)
  })
  it("comes by the lesson's own way, or the course's", () => {
    expect(doneByOf(null, "opened")).toBe("opened")
    expect(doneByOf("watched", "opened")).toBe("watched")
    expect(doneByOf("something old", "something older")).toBe("pressed")
  })
})
