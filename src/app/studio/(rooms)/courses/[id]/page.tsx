import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { readCourse } from "@/server/course/course"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { mediaNames } from "@/server/media/media-view"
import { usesOf } from "@/server/reference"
import { Link } from "@/ui/link"
import { idOf } from "../../ids"
import { UsedIn } from "../../used-in"
import { CourseEditor } from "./course-editor"

export const metadata = { title: "Course" }

export default async function CoursePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>
  searchParams: Promise<{ lesson?: string }>
}) {
  const s = await studio()
  const found = await readCourse(s.db, idOf((await params).id))
  if (!found) notFound()
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <p className="text-[0.9rem]">
        <Link className="text-slate hover:underline" href="/studio/courses">
          ‹ Courses
        </Link>
      </p>
      <CourseEditor
        course={found.course}
        lessons={found.lessons}
        media={await mediaNames(s.db, s.config)}
        selected={Number((await searchParams).lesson) || null}
        setsOff={Object.fromEntries(
          await Promise.all(found.lessons.map(async (l) => [l.id, await effectsAbout(s.db, "lesson", l.id)])),
        )}
        choices={await effectChoices(s.db)}
      />
      <UsedIn uses={await usesOf(s.db, "course", found.course.id)} />
    </div>
  )
}
