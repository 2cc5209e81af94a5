import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { readCourse, storedCourse } from "@/server/course/course"
import { bringsLessons } from "@/server/course/opening"
import { readOutline } from "@/server/course/outline"
import { readPlans } from "@/server/course/plan"
import { schoolHead } from "@/server/school-view"
import { idOf } from "../../../asked"
import { OpensEditor } from "./opens-editor"

export const metadata = { title: "What opens when" }

export default async function OpensPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const id = idOf((await params).id)
  const found = await readCourse(s.db, id)
  const plan = (await readPlans(s.db, [id])).get(id)?.at(-1)?.plan
  if (!found || !plan) notFound()
  const { value } = storedCourse(found.course)
  const rules = new Map<string, string | null>([
    ...found.modules.map((m) => [`module:${m.id}`, m.opens] as const),
    ...found.lessons.map((l) => [`lesson:${l.id}`, l.opens] as const),
  ])
  return (
    <OpensEditor
      course={id}
      settings={{ opens: value.opens, inOrder: value.inOrder, tells: value.tells }}
      rows={(await readOutline(s.db, id)).map((r) => {
        const rule = rules.get(r.key)
        return { kind: r.kind, id: r.id ?? 0, title: r.title, live: r.live, opens: rule ? JSON.parse(rule) : null }
      })}
      brings={await bringsLessons(s.db, id)}
      plan={plan}
      now={await s.clock.now()}
      zone={(await schoolHead(s.db)).zone}
    />
  )
}
