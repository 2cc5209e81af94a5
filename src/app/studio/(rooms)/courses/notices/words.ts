import type { Place } from "@/core/course/notice"
import type { Hidden } from "@/server/notice/notice-view"

export const placeWords: Readonly<Record<Place, string>> = {
  "sign-in": "On the sign-in page",
  shelf: "On the shelf, above the courses",
  lesson: "Beside lessons",
}

/** Why a notice that is on is seen by nobody. */
export const hiddenWords: Readonly<Record<NonNullable<Hidden>, string>> = {
  over: "Its last day is over: nobody sees it.",
  backwards: "It ends before it begins: nobody sees it.",
  nobody: "Nobody can be all of that at once: nobody sees it.",
  "leads-nowhere": "What its button leads to isn’t live: nobody sees it.",
}
