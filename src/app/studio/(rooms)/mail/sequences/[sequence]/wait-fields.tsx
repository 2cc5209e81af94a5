"use client"

import { schoolDay } from "@/app/studio/school-time"
import { type Moment, momentAbout, momentLabels } from "@/core/sequence/moment"
import type { Wait } from "@/core/sequence/wait"
import { clockWords, weekdays } from "@/core/sequence/words"
import { option, SelectField, TextField } from "@/ui/field"
import type { RoomChoices } from "./sequence-editor"

const labels: Readonly<Record<Wait["for"], string>> = {
  days: "some days, to a time of their day",
  span: "a span of time",
  weekday: "until a weekday",
  date: "until a date",
  moment: "until before or after something",
}

function fresh(kind: Wait["for"], choices: RoomChoices): Wait | null {
  switch (kind) {
    case "days":
      return { for: "days", days: 1, at: 450 }
    case "span":
      return { for: "span", minutes: 60 }
    case "weekday":
      return { for: "weekday", weekday: 1, at: 450 }
    case "date":
      return { for: "date", date: schoolDay(1), at: 450 }
    case "moment": {
      const moment =
        freshMoment("webinar-starts", choices) ??
        freshMoment("offer-ends", choices) ??
        freshMoment("lesson-opens", choices)
      return moment && { for: "moment", moment, minutes: -1440, late: "leave-out" }
    }
  }
}

const about = (of: Moment["of"], { segment }: RoomChoices) =>
  ({ offer: segment.offers, lesson: segment.lessons, webinar: segment.webinars })[momentAbout(of)]

function freshMoment(of: Moment["of"], choices: RoomChoices): Moment | null {
  const first = about(of, choices)[0]
  return first ? { of, id: first.id } : null
}

export function WaitFields({
  wait,
  choices,
  first,
  onChange,
}: {
  wait: Wait
  choices: RoomChoices
  /** It is the first step: it counts from the beginning. */
  first: boolean
  onChange: (wait: Wait) => void
}) {
  return (
    <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
      <SelectField
        label="Wait"
        value={wait.for}
        onChange={(e) => {
          const next = fresh(e.target.value as Wait["for"], choices)
          if (next) onChange(next)
        }}
      >
        {(Object.keys(labels) as Wait["for"][])
          .filter((kind) => kind === wait.for || fresh(kind, choices))
          .map((kind) => option(kind, labels[kind]))}
      </SelectField>
      <One wait={wait} choices={choices} first={first} onChange={onChange} />
    </div>
  )
}

function One({
  wait,
  choices,
  first,
  onChange,
}: {
  wait: Wait
  choices: RoomChoices
  first: boolean
  onChange: (wait: Wait) => void
}) {
  switch (wait.for) {
    case "span":
      return (
        <SpanField label="How long" minutes={wait.minutes} onChange={(minutes) => onChange({ ...wait, minutes })} />
      )
    case "days":
      return (
        <>
          <TextField
            label={first ? "Days after it begins" : "Days after the step before"}
            type="number"
            min={0}
            max={365}
            value={wait.days}
            onChange={(e) => onChange({ ...wait, days: clamp(e.target.valueAsNumber, 0, 365) })}
          />
          <TimeField
            label="Time (reader's local)"
            hint={wait.at === null ? "Empty: at the same time of day." : undefined}
            value={wait.at}
            onChange={(at) => onChange({ ...wait, at })}
          />
        </>
      )
    case "weekday":
      return (
        <>
          <SelectField
            label="Weekday"
            value={wait.weekday}
            onChange={(e) => onChange({ ...wait, weekday: Number(e.target.value) })}
          >
            {weekdays.map((name, i) => (
              <option key={name} value={i + 1}>
                {name}
              </option>
            ))}
          </SelectField>
          <TimeField
            label="Time (reader's local)"
            value={wait.at}
            onChange={(at) => onChange({ ...wait, at: at ?? 0 })}
          />
        </>
      )
    case "date":
      return (
        <>
          <TextField
            label="Date"
            type="date"
            value={wait.date}
            hint="Whoever comes later goes on at once."
            onChange={(e) => e.target.value && onChange({ ...wait, date: e.target.value })}
          />
          <TimeField
            label="Time (reader's local)"
            value={wait.at}
            onChange={(at) => onChange({ ...wait, at: at ?? 0 })}
          />
        </>
      )
    case "moment": {
      const list = about(wait.moment.of, choices)
      return (
        <>
          <SelectField
            label="What"
            value={wait.moment.of}
            onChange={(e) => {
              const moment = freshMoment(e.target.value as Moment["of"], choices)
              if (moment) onChange({ ...wait, moment })
            }}
          >
            {Object.entries(momentLabels).map(([of, says]) => option(of, says))}
          </SelectField>
          <SelectField
            label="Which"
            value={wait.moment.id}
            onChange={(e) => onChange({ ...wait, moment: { ...wait.moment, id: Number(e.target.value) } })}
          >
            {list.map((x) => option(x.id, x.name))}
          </SelectField>
          <SelectField
            label="Before or after"
            value={wait.minutes < 0 ? "before" : "after"}
            onChange={(e) =>
              onChange({ ...wait, minutes: Math.abs(wait.minutes || 60) * (e.target.value === "before" ? -1 : 1) })
            }
          >
            <option value="before">before it</option>
            <option value="after">after it</option>
          </SelectField>
          <SpanField
            label="How long"
            minutes={Math.abs(wait.minutes) || 60}
            onChange={(minutes) => onChange({ ...wait, minutes: wait.minutes < 0 ? -minutes : minutes })}
          />
          <SelectField
            label="Whoever comes too late for it"
            value={wait.late ?? "go-on"}
            hint="Or has no such moment at all."
            onChange={(e) => onChange({ ...wait, late: e.target.value as "go-on" | "leave-out" })}
          >
            <option value="go-on">goes on at once</option>
            <option value="leave-out">leaves out what follows, up to the next wait</option>
          </SelectField>
        </>
      )
    }
  }
}

const clamp = (n: number, from: number, to: number) => Math.min(to, Math.max(from, Math.round(n) || from))

function TimeField({
  label,
  hint,
  value,
  onChange,
}: {
  label: string
  hint?: string
  value: number | null
  onChange: (minute: number | null) => void
}) {
  return (
    <TextField
      label={label}
      type="time"
      hint={hint}
      value={value === null ? "" : clockWords(value)}
      onChange={(e) => {
        const [h, min] = e.target.value.split(":").map(Number)
        onChange(e.target.value ? h! * 60 + min! : null)
      }}
    />
  )
}

const units = [
  [1, "minutes"],
  [60, "hours"],
  [1440, "days"],
  [10_080, "weeks"],
] as const

/** A span as a number of minutes, hours, days or weeks; at most a year. */
export function SpanField({
  label,
  minutes,
  onChange,
}: {
  label: string
  minutes: number
  onChange: (minutes: number) => void
}) {
  const [size] = [...units].reverse().find(([of]) => minutes % of === 0) ?? units[0]
  const put = (n: number, of: number) => onChange(clamp(n * of, 1, 366 * 1440))
  return (
    <div className="grid grid-cols-2 gap-2">
      <TextField
        label={label}
        type="number"
        min={1}
        value={minutes / size}
        onChange={(e) => put(e.target.valueAsNumber, size)}
      />
      <SelectField label="Unit" value={size} onChange={(e) => put(minutes / size, Number(e.target.value))}>
        {units.map(([of, name]) => option(of, name))}
      </SelectField>
    </div>
  )
}
