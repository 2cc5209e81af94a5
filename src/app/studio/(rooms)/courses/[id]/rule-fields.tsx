"use client"

import { schoolDay } from "@/app/studio/school-time"
import type { DoneBy } from "@/core/course/done"
import type { Opens } from "@/core/course/opens"
import { option, SelectField, TextField } from "@/ui/field"

const kinds: Readonly<Record<Opens["kind"], string>> = {
  "at-once": "At once",
  "after-days": "Days after they were let in",
  "on-date": "On a day",
  "after-lesson": "After another lesson",
}

/** When something opens. `inherits`: what it does without a rule of its own, after “As”; undefined where it must have one. */
export function OpensField<T extends Opens | null>({
  label,
  value,
  inherits,
  lessons,
  error,
  onChange,
}: {
  label: string
  value: T
  inherits?: string
  lessons: readonly { readonly id: number; readonly title: string }[]
  error?: string
  onChange: (value: T) => void
}) {
  const put = (opens: Opens | null) => onChange(opens as T)
  const begin = (kind: string) => {
    if (kind === "at-once") put({ kind })
    else if (kind === "after-days") put({ kind, days: 7, at: "06:00" })
    else if (kind === "on-date") put({ kind, date: schoolDay(1), at: "06:00" })
    else if (kind === "after-lesson" && lessons[0]) put({ kind, lesson: lessons[0].id })
    else put(null)
  }
  return (
    <div className="flex flex-wrap items-end gap-2">
      <div className="min-w-48 flex-1">
        <SelectField label={label} value={value?.kind ?? ""} error={error} onChange={(e) => begin(e.target.value)}>
          {inherits ? <option value="">{inherits.charAt(0).toUpperCase() + inherits.slice(1)}</option> : null}
          {Object.entries(kinds).map(([kind, says]) =>
            kind === "after-lesson" && !lessons.length ? null : (
              <option key={kind} value={kind}>
                {says}
              </option>
            ),
          )}
        </SelectField>
      </div>
      {value?.kind === "after-days" ? (
        <>
          <div className="w-20">
            <TextField
              label="Days"
              type="number"
              min={0}
              max={3650}
              value={value.days}
              onChange={(e) => put({ ...value, days: Math.max(0, Math.round(e.target.valueAsNumber || 0)) })}
            />
          </div>
          <Time value={value.at} onChange={(at) => put({ ...value, at: at || null })} />
        </>
      ) : null}
      {value?.kind === "on-date" ? (
        <>
          <div className="w-40">
            <TextField
              label="Day"
              type="date"
              value={value.date}
              onChange={(e) => e.target.value && put({ ...value, date: e.target.value })}
            />
          </div>
          <Time value={value.at} onChange={(at) => at && put({ ...value, at })} />
        </>
      ) : null}
      {value?.kind === "after-lesson" ? (
        <div className="min-w-48 flex-1">
          <SelectField
            label="Which lesson"
            value={value.lesson}
            onChange={(e) => put({ ...value, lesson: Number(e.target.value) })}
          >
            {lessons.some((l) => l.id === value.lesson) ? null : <option value={value.lesson}>One that is gone</option>}
            {lessons.map((l) => option(l.id, l.title || "A lesson without a title"))}
          </SelectField>
        </div>
      ) : null}
    </div>
  )
}

function Time({ value, onChange }: { value: string | null; onChange: (at: string) => void }) {
  return (
    <div className="w-32">
      <TextField label="At their" type="time" value={value ?? ""} onChange={(e) => onChange(e.target.value)} />
    </div>
  )
}

const ways: Partial<Record<DoneBy, string>> = {
  pressed: "They press “Done”",
  opened: "They open it",
  watched: "They watch its video to the end",
  passed: "They pass each of its quizzes",
  accepted: "You accept what they hand in",
}

/** What makes a lesson done. */
export function DoneByField<T extends DoneBy | null>({
  value,
  inherits,
  onChange,
}: {
  value: T
  inherits?: string
  onChange: (value: T) => void
}) {
  return (
    <SelectField label="Done when" value={value ?? ""} onChange={(e) => onChange((e.target.value || null) as T)}>
      {inherits ? <option value="">{inherits.charAt(0).toUpperCase() + inherits.slice(1)}</option> : null}
      {Object.entries(ways).map(([way, says]) => option(way, says))}
    </SelectField>
  )
}
