import type { LearnCourse, LearnLesson } from "@/server/course/learn"
import { Link } from "@/ui/link"

/** The lessons of a course under their modules: done, open, or not yet, and why. `here`: the one that is looked at. */
export function Curriculum({
  course,
  here,
  brief = false,
  to = (l) => `/learn/${course.slug}/${l.id}`,
}: {
  course: LearnCourse
  here?: number
  brief?: boolean
  /** Where a lesson is looked at. */
  to?: (lesson: LearnLesson) => string
}) {
  const numbers = new Map(course.lessons.map((l, i) => [l.id, i + 1]))
  const groups = [
    { id: 0, title: "", lessons: course.lessons.filter((l) => l.module === null) },
    ...course.modules.map((m) => ({ ...m, lessons: course.lessons.filter((l) => l.module === m.id) })),
  ].filter((g) => g.lessons.length)
  return (
    <div className={brief ? "" : "mt-6"}>
      {groups.map((g) => (
        <section key={g.id} aria-label={g.title || "Lessons"} className="mb-4">
          {g.title ? <h2 className={brief ? "mb-1 text-base" : "mb-1 text-lg"}>{g.title}</h2> : null}
          <ol className="border-b border-line">
            {g.lessons.map((l) => (
              <li key={l.id} className="border-t border-line">
                <Row
                  course={course}
                  lesson={l}
                  number={numbers.get(l.id) ?? 0}
                  here={l.id === here}
                  brief={brief}
                  href={to(l)}
                />
              </li>
            ))}
          </ol>
        </section>
      ))}
    </div>
  )
}

function Row({
  course,
  lesson: l,
  number,
  here,
  brief,
  href,
}: {
  course: LearnCourse
  lesson: LearnLesson
  number: number
  here: boolean
  brief: boolean
  href: string
}) {
  const done = course.done.has(l.id)
  const preview = l.may.open && l.may.by === "taste" && !course.mine
  return (
    <Link
      href={href}
      aria-current={here ? "page" : undefined}
      className={`flex min-h-12 items-center gap-3 py-2 hover:bg-card ${here ? "bg-card font-semibold" : ""} ${brief ? "px-2 text-body" : ""}`}
    >
      <span className={`w-6 shrink-0 text-center ${done ? "font-bold text-reed" : "text-soft"}`}>
        {done ? "✓" : number}
      </span>
      <span className="min-w-0 flex-1">
        <span className={`block [overflow-wrap:anywhere] ${l.may.open ? "" : "text-soft"}`}>{l.title}</span>
        {l.says && (course.mine || here) ? (
          <span className="block text-label text-soft">{brief ? l.when : l.says}</span>
        ) : null}
      </span>
      {preview ? (
        <span className="rounded-full bg-reed-wash px-2 py-0.5 text-fine whitespace-nowrap text-reed">Free</span>
      ) : null}
      {!l.may.open && !course.mine ? <Lock /> : null}
      {l.minutes && !brief ? <span className="text-body whitespace-nowrap text-soft">{l.minutes} min</span> : null}
      {done ? <span className="sr-only">done</span> : null}
      {l.may.open ? null : <span className="sr-only">not open</span>}
    </Link>
  )
}

function Lock() {
  return (
    <svg aria-hidden viewBox="0 0 16 16" className="size-4 shrink-0 text-soft" fill="none" stroke="currentColor">
      <rect x="3" y="7" width="10" height="7" rx="1.5" />
      <path d="M5 7V5a3 3 0 0 1 6 0v2" />
    </svg>
  )
}
