import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { readCourse, storedCourse } from "@/server/course/course"
import { gateView } from "@/server/course/gates"
import { idOf } from "../../../asked"
import { GatesEditor } from "./gates-editor"

export const metadata = { title: "Without access" }

export default async function GatesPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const id = idOf((await params).id)
  const found = await readCourse(s.db, id)
  if (!found) notFound()
  return <GatesEditor course={id} gates={storedCourse(found.course).value.gates} view={await gateView(s.db, id)} />
}
