import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { readCourse, storedCourse } from "@/server/course/course"
import { mediaNames } from "@/server/media/media-view"
import { usesOf } from "@/server/reference"
import { idOf } from "../../../ids"
import { UsedIn } from "../../../used-in"
import { CourseSettings } from "./course-settings"

export const metadata = { title: "Course settings" }

export default async function SettingsPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const found = await readCourse(s.db, idOf((await params).id))
  if (!found) notFound()
  return (
    <div className="mt-4 max-w-2xl">
      <CourseSettings course={storedCourse(found.course)} media={await mediaNames(s.db, s.config)} />
      <UsedIn uses={await usesOf(s.db, "course", found.course.id)} />
    </div>
  )
}
