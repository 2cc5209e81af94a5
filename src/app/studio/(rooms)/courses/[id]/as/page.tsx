import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { gateFor, readGates, situationOf } from "@/core/course/gate"
import { readCourse } from "@/server/course/course"
import { schoolGates } from "@/server/course/gates"
import { courseSeenAs, type SeenAs } from "@/server/course/learn"
import { otherPerson } from "@/server/person/unite"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"
import { idOf } from "../../../ids"

export const metadata = { title: "See it as" }

const gateWords = {
  found: "the page that leads to it",
  "sign-in": "the sign-in",
  step: "a page of a funnel",
  words: "words over the curriculum",
} as const

export default async function SeeItAs({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>
  searchParams: Promise<{ as?: string; days?: string; email?: string }>
}) {
  const s = await studio()
  const id = idOf((await params).id)
  const asked = await searchParams
  const days = Math.min(3650, Math.max(0, Math.round(Number(asked.days) || 0)))
  const person = asked.as === "person" && asked.email ? await otherPerson(s.db, 0, asked.email) : null
  const seen: SeenAs =
    asked.as === "outside" || asked.as === "stranger"
      ? { as: asked.as }
      : person && "id" in person
        ? { as: "person", person: person.id }
        : { as: "learner", days }
  const course = await courseSeenAs(s, id, seen)
  const stored = await readCourse(s.db, id)
  if (!course || !stored) notFound()
  const school = await schoolGates(s.db)
  const ownGates = new Map(stored.lessons.map((l) => [l.id, readGates(l.gates)]))
  const courseGates = readGates(stored.course.gates)
  const meets = (lesson: (typeof course.lessons)[number]) => {
    const situation = situationOf(lesson.may)
    if (situation === null) return lesson.may.open && lesson.may.by === "taste" ? "Open: a free taste" : "Open"
    const { gate } = gateFor(situation, { lesson: ownGates.get(lesson.id), course: courseGates, school })
    const where = `meets ${gateWords[gate.kind]}`
    return situation === "not-yet" ? `${lesson.when}; until then ${where}` : `Not theirs: ${where}`
  }
  const groups = [{ id: null as number | null, title: "" }, ...course.modules]
  return (
    <div className="mt-4 max-w-4xl">
      <form className="flex flex-wrap items-end gap-3" action={`/studio/courses/${id}/as`}>
        <div className="w-60">
          <SelectField label="See it as" name="as" defaultValue={asked.as ?? "learner"}>
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
            error={person && "refused" in person ? person.refused : undefined}
          />
        </div>
        <Button type="submit">Look</Button>
      </form>
      <p className="mt-4 rounded-md bg-amber-wash px-3 py-2">
        You see “{course.title}” as{" "}
        {seen.as === "person" && person && "id" in person
          ? person.name || person.email
          : seen.as === "learner"
            ? `a learner ${days === 0 ? "who has just come in" : `${days} ${days === 1 ? "day" : "days"} in`}, who has done nothing yet`
            : seen.as === "stranger"
              ? "somebody who isn’t signed in"
              : "somebody without it"}
        . Nothing is marked by looking.
      </p>
      {groups.map((g) => {
        const lessons = course.lessons.filter((l) => l.module === g.id)
        if (!lessons.length) return null
        return (
          <section key={g.id ?? 0} aria-label={g.title || "Lessons"} className="mt-4">
            {g.title ? <h2 className="text-base">{g.title}</h2> : null}
            <ul className="border-b border-line">
              {lessons.map((l) => (
                <li key={l.id} className="grid gap-x-6 border-t border-line py-1.5 sm:grid-cols-2">
                  <span className="[overflow-wrap:anywhere]">
                    {course.done.has(l.id) ? <strong className="text-reed">✓ </strong> : null}
                    {l.title || "Without a title"}
                  </span>
                  <span className={l.may.open ? "text-reed" : "text-soft"}>{meets(l)}</span>
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
