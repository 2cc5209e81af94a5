"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import type { Drip } from "@/core/course/drip"
import { mayOpen, noProgress } from "@/core/course/may-open"
import type { Opens } from "@/core/course/opens"
import { type CoursePlan, neverOpens } from "@/core/course/plan"
import { openingWords, ruleWords } from "@/core/course/words"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { SelectField, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { Table } from "@/ui/table"
import { useAction } from "@/ui/use-action"
import { useSaved } from "@/ui/use-saved"
import { saveCourseAction, saveLessonAction, saveModuleAction, setDripAction } from "../../actions"
import { OpensField } from "../rule-fields"

type Row = {
  readonly kind: "module" | "lesson"
  readonly id: number
  readonly title: string
  readonly live: boolean
  readonly opens: Opens | null
}

/** The rules of a course, its modules and lessons, with what somebody meets who is let in today. */
export function OpensEditor({
  course,
  settings,
  rows,
  brings,
  plan,
  now,
  zone,
}: {
  course: number
  settings: { readonly opens: Opens; readonly inOrder: boolean; readonly tells: boolean }
  rows: readonly Row[]
  /** Sequences that bring its lessons by e-mail. */
  brings: readonly string[]
  plan: CoursePlan
  now: number
  zone: string
}) {
  const router = useRouter()
  const { busy, refused, run: save } = useAction()
  const [open, setOpen] = useState<string | null>(null)
  const lessons = rows.filter((r) => r.kind === "lesson").map(({ id, title }) => ({ id, title }))
  const titleOf = (id: number) => lessons.find((l) => l.id === id)?.title || "a lesson that is gone"
  const never = neverOpens(plan)
  const newcomer = {
    known: true,
    admissions: [{ module: null, from: now, until: null }],
    plans: [{ from: 0, plan }],
    openToAll: false,
    progress: noProgress,
    zone,
    at: now,
  }
  const meets = (r: Row) => {
    if (!r.live) return "Draft: nobody sees it"
    if (never.get(r.id) === "circle") return "Never: it waits for itself in a circle"
    if (never.get(r.id) === "gone") return "At once: what it waited for is gone"
    const answer = mayOpen(newcomer, r.id)
    const says = openingWords(answer, { now, zone, lesson: titleOf })
    if (says === null) return answer.open && answer.by === "taste" ? "Open to everybody" : "Open at once"
    return says
  }
  const answered = async (work: Promise<{ refused?: string } | object>) => {
    const done = await work
    router.refresh()
    return "refused" in done && typeof done.refused === "string" ? { refused: done.refused } : null
  }
  const put = (r: Row, opens: Opens | null) =>
    answered(r.kind === "module" ? saveModuleAction(r.id, opens) : saveLessonAction({ lesson: r.id, opens }))
  return (
    <div className="mt-4" aria-busy={busy}>
      <div className="grid grid-cols-1 max-w-3xl gap-x-8 gap-y-3 sm:grid-cols-2">
        <SavedOpens
          label="Usually, a lesson opens"
          given={settings.opens}
          lessons={lessons}
          save={(opens) => answered(saveCourseAction({ course, opens }))}
        />
        <div className="space-y-2">
          <Check
            checked={settings.inOrder}
            onChange={(inOrder) => save(() => saveCourseAction({ course, inOrder }))}
            hint="A lesson opens when the required ones before it are done."
          >
            In order
          </Check>
          <Check
            checked={settings.tells}
            onChange={(tells) => save(() => saveCourseAction({ course, tells }))}
            hint={
              brings.length
                ? `Not those whom ${brings.map((b) => `“${b}”`).join(" or ")} brings the lessons: they would be mailed twice.`
                : undefined
            }
          >
            Mail people when the next part opens
          </Check>
        </div>
        <DripFields
          modules={rows.some((r) => r.kind === "module")}
          onSet={(drip) => save(() => setDripAction({ course, drip }))}
        />
      </div>
      <Refusal className="mt-3">{refused}</Refusal>
      <Table
        className="mt-5 min-w-[52rem] table-fixed"
        columns={[
          { says: "Module or lesson" },
          { says: "Opens", wide: "w-72" },
          { says: "Somebody who is let in now", wide: "w-72" },
          { says: <span className="sr-only">Change it</span>, wide: "w-20" },
        ]}
      >
        {rows.map((r) => {
          const key = `${r.kind}:${r.id}`
          const module = r.kind === "module"
          return (
            <tr key={key} className="border-b border-line align-top">
              <td className={`py-2 pr-3 [overflow-wrap:anywhere] ${module ? "font-bold" : "pl-5"}`}>
                {r.title || "Without a title"}
              </td>
              <td className="py-2 pr-3">
                {open === key ? (
                  <SavedOpens
                    label={module ? "Its lessons open" : "It opens"}
                    given={r.opens}
                    inherits={module ? "as the course says" : "as its module and course say"}
                    lessons={lessons.filter((l) => module || l.id !== r.id)}
                    save={(opens) => put(r, opens)}
                  />
                ) : r.opens ? (
                  ruleWords(r.opens, titleOf)
                ) : (
                  <span className="text-soft">{module ? "As the course says" : "As above"}</span>
                )}
              </td>
              <td className={`py-2 pr-3 ${never.has(r.id) && !module ? "font-semibold text-dusk" : "text-soft"}`}>
                {module ? "" : meets(r)}
              </td>
              <td className="py-1 text-right">
                <Button
                  look="quiet"
                  aria-expanded={open === key}
                  onClick={() => setOpen(open === key ? null : key)}
                  aria-label={`${open === key ? "Close" : "Change"}: ${r.title}`}
                >
                  {open === key ? "Close" : "Change"}
                </Button>
              </td>
            </tr>
          )
        })}
      </Table>
      {rows.length ? null : (
        <p className="mt-4 text-soft">There is no lesson yet. Write the first ones under “Lessons”.</p>
      )}
    </div>
  )
}

/** All rules at once: one lesson a day, a module a week. */
function DripFields({ modules, onSet }: { modules: boolean; onSet: (drip: Drip) => void }) {
  const [drip, set] = useState<Drip>({ each: "lesson", days: 1, at: "06:00" })
  return (
    <fieldset className="flex flex-wrap items-end gap-3 border-t border-line pt-3 sm:col-span-2">
      <legend className="sr-only">Set all at once</legend>
      <div className="w-44">
        <SelectField
          label="All at once: one"
          value={drip.each}
          onChange={(e) => {
            const each = e.target.value as Drip["each"]
            set({ ...drip, each, days: each === "lesson" ? 1 : 7 })
          }}
        >
          <option value="lesson">lesson</option>
          {modules ? <option value="module">module</option> : null}
        </SelectField>
      </div>
      <div className="w-28">
        <TextField
          label="every … days"
          type="number"
          min={1}
          max={90}
          value={drip.days}
          onChange={(e) => set({ ...drip, days: Math.min(90, Math.max(1, Math.round(e.target.valueAsNumber) || 1)) })}
        />
      </div>
      <div className="w-36">
        <TextField
          label="at, on their clock"
          type="time"
          value={drip.at ?? ""}
          onChange={(e) => set({ ...drip, at: e.target.value || null })}
        />
      </div>
      <Button onClick={() => onSet(drip)}>Set for all</Button>
      <p className="w-full text-label text-soft">
        The first opens at once. It takes the place of every rule below; what is open to somebody stays open.
      </p>
    </fieldset>
  )
}

/** A rule that is saved a moment after it was typed, so that what is typed on the way is no version of the plan. */
function SavedOpens<T extends Opens | null>({
  label,
  given,
  inherits,
  lessons,
  save,
}: {
  label: string
  given: T
  inherits?: string
  lessons: readonly { readonly id: number; readonly title: string }[]
  save: (opens: T) => Promise<{ refused: string } | null>
}) {
  const [value, setValue] = useState(given)
  const saved = useSaved(value, save, 900)
  return (
    <OpensField
      label={label}
      value={value}
      inherits={inherits}
      lessons={lessons}
      error={typeof saved === "object" ? saved.refused : undefined}
      onChange={setValue}
    />
  )
}
