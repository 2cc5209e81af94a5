import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { readCourse } from "@/server/course/course"
import { Link } from "@/ui/link"
import { idOf } from "../../ids"
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
  const media = await s.db.rows<{ id: number; kind: "picture" | "video" | "file"; name: string; stored: string }>(
    "SELECT id, kind, name, stored FROM media ORDER BY id DESC LIMIT 300",
  )
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
        media={media.map((m) => ({ id: m.id, kind: m.kind, name: m.name, url: `/media/${m.stored}` }))}
        selected={Number((await searchParams).lesson) || null}
      />
    </div>
  )
}
