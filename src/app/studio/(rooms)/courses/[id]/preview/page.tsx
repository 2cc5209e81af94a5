import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import { Link } from "@/ui/link"
import { idOf } from "../../../asked"
import { type AskedAs, askedQuery, seenAs } from "./seen-as"

export const metadata = { title: "Preview as" }

export default async function SeeItAs({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>
  searchParams: Promise<AskedAs>
}) {
  const s = await studio()
  const id = idOf((await params).id)
  const asked = await searchParams
  const seen = await seenAs(s, id, asked)
  if (!seen) notFound()
  const { course, days } = seen
  const groups = [{ id: null as number | null, title: "" }, ...course.modules]
  return (
    <div className="mt-4 max-w-4xl">
      <form className="flex flex-wrap items-end gap-3" action={`/studio/courses/${id}/preview`}>
        <div className="w-60">
          <SelectField label="Preview as" name="as" defaultValue={asked.as ?? "learner"}>
            <option value="learner">A learner, so many days in</option>
            <option value="stranger">Somebody not signed in</option>
            <option value="outside">Somebody signed in, without it</option>
            <option value="person">This person</option>
          </SelectField>
        </div>
        <div className="w-24">
          <TextField label="Day" name="days" type="number" min={0} max={3650} defaultValue={days} />
        </div>
        <div className="min-w-56 flex-1">
          <TextField
            label="Their e-mail address"
            name="email"
            type="email"
            placeholder="for “This person”"
            defaultValue={asked.email}
            error={seen.refused}
          />
        </div>
        <Button type="submit">Look</Button>
      </form>
      <p className="mt-4 rounded-md bg-amber-wash px-3 py-2">
        You see “{course.title}” as {seen.who}. Nothing is marked by looking.
      </p>
      {groups.map((g) => {
        const lessons = course.lessons.filter((l) => l.module === g.id)
        if (!lessons.length) return null
        return (
          <section key={g.id ?? 0} aria-label={g.title || "Lessons"} className="mt-4">
            {g.title ? <h2 className="text-base">{g.title}</h2> : null}
            <ul className="border-b border-line">
              {lessons.map((l) => (
                <li key={l.id} className="grid grid-cols-1 gap-x-6 border-t border-line py-1.5 sm:grid-cols-2">
                  <span className="[overflow-wrap:anywhere]">
                    {course.done.has(l.id) ? <strong className="text-reed">✓ </strong> : null}
                    <Link
                      href={`/studio/courses/${id}/preview/${l.id}${askedQuery(asked)}`}
                      className="hover:underline"
                    >
                      {l.title || "Without a title"}
                    </Link>
                  </span>
                  <span className={l.may.open ? "text-reed" : "text-soft"}>{seen.meets(l)}</span>
                </li>
              ))}
            </ul>
          </section>
        )
      })}
      {course.lessons.length ? null : <p className="mt-4 text-soft">No lesson is live yet: nobody sees anything.</p>}
    </div>
  )
}
