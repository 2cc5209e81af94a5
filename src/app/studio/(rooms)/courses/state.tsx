import type { CourseState } from "@/server/course/course"

export const stateWords: Readonly<Record<CourseState, string>> = {
  draft: "Draft",
  announced: "Announced",
  live: "Live",
  closed: "Closed to newcomers",
}

/** The state of a course as a mark beside its name. */
export function StateOf({ state }: { state: CourseState }) {
  const look = {
    draft: "border border-line text-soft",
    announced: "bg-amber-wash text-amber-text",
    live: "bg-reed-wash text-reed",
    closed: "border border-line text-ink",
  }
  return (
    <span className={`rounded-full px-2.5 py-0.5 text-label whitespace-nowrap ${look[state]}`}>
      {stateWords[state]}
    </span>
  )
}
