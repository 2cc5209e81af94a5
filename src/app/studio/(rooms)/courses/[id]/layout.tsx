import { notFound } from "next/navigation"
import type { ReactNode } from "react"
import { studio } from "@/app/guard"
import { courseTitle } from "@/server/course/course-view"
import { Back } from "@/ui/link"
import { Tabs } from "@/ui/tabs"
import { idOf } from "../../asked"
import { StateOf } from "../state"

export default async function CourseLayout({
  children,
  params,
}: {
  children: ReactNode
  params: Promise<{ id: string }>
}) {
  const id = idOf((await params).id)
  const course = await courseTitle((await studio()).db, id)
  if (!course) notFound()
  const room = `/studio/courses/${id}`
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <Back href="/studio/courses">Courses</Back>
      <div className="mt-1 mb-2 flex items-center gap-4">
        <h1 className="truncate">{course.title}</h1>
        <StateOf state={course.state} />
      </div>
      <Tabs
        label="Within the course"
        tabs={[
          { name: "Lessons", href: room },
          { name: "What opens when", href: `${room}/opens` },
          { name: "Without access", href: `${room}/without-access` },
          { name: "Members", href: `${room}/members` },
          { name: "Hand-ins", href: `${room}/hand-ins` },
          { name: "Surveys", href: `${room}/surveys` },
          { name: "Comments", href: `${room}/comments` },
          { name: "Words", href: `${room}/words` },
          { name: "Preview as…", href: `${room}/preview` },
          { name: "Settings", href: `${room}/settings` },
        ]}
      />
      {children}
    </div>
  )
}
