import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { emptyLessons, readCourse, storedCourse } from "@/server/course/course"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { mediaNames } from "@/server/media/media-view"
import { usesOf } from "@/server/reference"
import { idOf } from "../../../asked"
import { SetsOff } from "../../../sets-off"
import { UsedIn } from "../../../used-in"
import { CourseSettings } from "./course-settings"

export const metadata = { title: "Course settings" }

export default async function SettingsPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const found = await readCourse(s.db, idOf((await params).id))
  if (!found) notFound()
  const choices = await effectChoices(s.db)
  const modules = await Promise.all(
    found.modules.map(async (m) => ({ ...m, on: await effectsAbout(s.db, "module", m.id) })),
  )
  return (
    <div className="mt-4 max-w-2xl">
      <CourseSettings
        course={storedCourse(found.course)}
        media={await mediaNames(s.db, s.config)}
        empty={(await emptyLessons(s.db, [found.course.id])).length}
      />
      <SetsOff
        of={found.course.id}
        name={`“${found.course.title}”`}
        on={await effectsAbout(s.db, "course", found.course.id)}
        choices={choices}
      />
      {modules.length ? (
        <details
          className="mt-6 border-t border-line pt-4"
          open={modules.some((m) => m.on.some((o) => o.deeds.length))}
        >
          <summary className="text-slate">
            What its {modules.length === 1 ? "module sets" : `${modules.length} modules set`} off
          </summary>
          {modules.map((m) => (
            <SetsOff
              key={m.id}
              of={m.id}
              name={`“${m.title}”`}
              title={`What the module “${m.title}” sets off`}
              on={m.on}
              choices={choices}
            />
          ))}
        </details>
      ) : null}
      <UsedIn uses={await usesOf(s.db, "course", found.course.id)} />
    </div>
  )
}
