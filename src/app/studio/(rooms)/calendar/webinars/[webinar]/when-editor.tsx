"use client"

import { nextHourTomorrow, schoolDay } from "@/app/studio/school-time"
import type { AnyTime } from "@/core/webinar/any-time"
import type { DateRule } from "@/core/webinar/rule"
import type { When } from "@/core/webinar/webinar"
import { anyTimeWords, webinarClockWords, webinarRuleWords } from "@/core/webinar/words"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { SelectField, TextField } from "@/ui/field"
import { NumberField } from "./number-field"

const weekdays = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"]
const weekdayNames = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"]

const minuteOf = (clock: string) => {
  const [h, m] = clock.split(":").map(Number)
  return 60 * h! + m!
}

const fresh: Readonly<Record<When["kind"], () => When>> = {
  dates: () => ({ kind: "dates", dates: [] }),
  rule: () => ({
    kind: "rule",
    rule: { unit: "week", every: 1, on: [4], nth: 1, at: 19 * 60, from: schoolDay(), until: null, except: [] },
  }),
  "any-time": () => ({
    kind: "any-time",
    anyTime: { soon: true, times: [19 * 60], from: 8 * 60, to: 22 * 60, choices: 3 },
  }),
}

/**
 * When a webinar is: on some dates, by a rule, or whenever it suits.
 *
 * @param past whether a moment of the webinar's zone is over
 */
export function WhenEditor({
  value,
  past,
  onChange,
}: {
  value: When
  past: (date: Dates[number]) => boolean
  onChange: (when: When) => void
}) {
  return (
    <>
      <SelectField
        label="It is held"
        value={value.kind}
        onChange={(e) => onChange(fresh[e.target.value as When["kind"]]())}
      >
        <option value="dates">on dates that I choose</option>
        <option value="rule">again and again, by a rule</option>
        <option value="any-time">whenever it suits the visitor</option>
      </SelectField>
      {value.kind === "dates" ? (
        <DateList dates={value.dates} past={past} onChange={(dates) => onChange({ kind: "dates", dates })} />
      ) : value.kind === "rule" ? (
        <RuleFields rule={value.rule} onChange={(rule) => onChange({ kind: "rule", rule })} />
      ) : (
        <AnyTimeFields a={value.anyTime} onChange={(anyTime) => onChange({ kind: "any-time", anyTime })} />
      )}
    </>
  )
}

type Dates = Extract<When, { kind: "dates" }>["dates"]

function DateList({
  dates,
  past,
  onChange,
}: {
  dates: Dates
  past: (date: Dates[number]) => boolean
  onChange: (dates: Dates) => void
}) {
  return (
    <>
      <ul className="space-y-2">
        {dates.map((d, i) => (
          <li key={`${i}-${dates.length}`} className="flex items-start gap-2">
            <TextField
              label={`Date ${i + 1}`}
              type="date"
              value={d.date}
              error={past(d) ? "This is past: nobody can register for it" : undefined}
              onChange={(e) => e.target.value && onChange(dates.with(i, { ...d, date: e.target.value }))}
            />
            <Clock label="Time" at={d.at} onChange={(at) => onChange(dates.with(i, { ...d, at }))} />
            <Button look="quiet" onClick={() => onChange(dates.toSpliced(i, 1))} aria-label={`Remove date ${i + 1}`}>
              Remove
            </Button>
          </li>
        ))}
      </ul>
      <Button onClick={() => onChange([...dates, nextHourTomorrow()])}>Add a date</Button>
    </>
  )
}

function RuleFields({ rule, onChange }: { rule: DateRule; onChange: (rule: DateRule) => void }) {
  const put = (change: Partial<DateRule>) => onChange({ ...rule, ...change })
  return (
    <>
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
        <NumberField label="Every" value={rule.every} onChange={(every) => put({ every: Math.max(1, every) })} />
        <SelectField
          label="Weeks or months"
          value={rule.unit}
          onChange={(e) => put({ unit: e.target.value as DateRule["unit"] })}
        >
          <option value="week">{rule.every === 1 ? "week" : "weeks"}</option>
          <option value="month">{rule.every === 1 ? "month" : "months"}</option>
        </SelectField>
        <Clock label="Time" at={rule.at} onChange={(at) => put({ at })} />
      </div>
      <div className="flex flex-wrap items-end gap-3">
        {rule.unit === "month" ? (
          <SelectField
            label="Which of the month"
            value={rule.nth}
            onChange={(e) => put({ nth: Number(e.target.value) as DateRule["nth"] })}
          >
            <option value={1}>first</option>
            <option value={2}>second</option>
            <option value={3}>third</option>
            <option value={4}>fourth</option>
            <option value={-1}>last</option>
          </SelectField>
        ) : null}
        <fieldset>
          <legend className="mb-1 text-label font-semibold">On</legend>
          <div className="flex gap-1">
            {weekdays.map((d, i) => {
              const on = rule.on.includes(i + 1)
              return (
                <button
                  key={d}
                  type="button"
                  aria-pressed={on}
                  className={`min-h-9 min-w-9 rounded-md border px-1 text-note ${on ? "border-slate bg-slate font-semibold text-on-slate" : "border-line bg-card"}`}
                  onClick={() => {
                    const next = on ? rule.on.filter((x) => x !== i + 1) : [...rule.on, i + 1].sort((a, b) => a - b)
                    if (next.length) put({ on: next })
                  }}
                >
                  <span aria-hidden>{d}</span>
                  <span className="sr-only">{weekdayNames[i]}</span>
                </button>
              )
            })}
          </div>
        </fieldset>
      </div>
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
        <TextField
          label="From"
          type="date"
          value={rule.from}
          onChange={(e) => e.target.value && put({ from: e.target.value })}
        />
        <TextField
          label="Until"
          type="date"
          hint="Empty: without end."
          value={rule.until ?? ""}
          onChange={(e) => put({ until: e.target.value || null })}
        />
      </div>
      {rule.except.map((x, i) => (
        <div key={`${i}-${rule.except.length}`} className="flex items-end gap-2">
          <TextField
            label="Not from"
            type="date"
            value={x.from}
            onChange={(e) => e.target.value && put({ except: rule.except.with(i, { ...x, from: e.target.value }) })}
          />
          <TextField
            label="to"
            type="date"
            value={x.to}
            onChange={(e) => e.target.value && put({ except: rule.except.with(i, { ...x, to: e.target.value }) })}
          />
          <Button look="quiet" onClick={() => put({ except: rule.except.toSpliced(i, 1) })}>
            Remove
          </Button>
        </div>
      ))}
      <Button onClick={() => put({ except: [...rule.except, { from: rule.from, to: rule.from }] })}>
        Add days without it
      </Button>
      <p className="text-soft">It is held {webinarRuleWords(rule)}.</p>
    </>
  )
}

function AnyTimeFields({ a, onChange }: { a: AnyTime; onChange: (a: AnyTime) => void }) {
  const put = (change: Partial<AnyTime>) => onChange({ ...a, ...change })
  return (
    <>
      <Check checked={a.soon} onChange={(soon) => put({ soon })}>
        At the next quarter of an hour
      </Check>
      {a.times.map((at, i) => (
        <div key={`${i}-${a.times.length}`} className="flex items-end gap-2">
          <Clock label="Every day at" at={at} onChange={(time) => put({ times: a.times.with(i, time) })} />
          <Button look="quiet" onClick={() => put({ times: a.times.toSpliced(i, 1) })}>
            Remove
          </Button>
        </div>
      ))}
      {a.times.length < 6 ? (
        <Button onClick={() => put({ times: [...a.times, 10 * 60] })}>Add a time of day</Button>
      ) : null}
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
        <Clock label="Not before" at={a.from} onChange={(from) => put({ from })} />
        <Clock label="and not from" at={a.to} onChange={(to) => put({ to })} />
        <NumberField label="Choices shown" value={a.choices} onChange={(choices) => put({ choices })} />
      </div>
      <p className="text-soft">
        It is held {anyTimeWords(a)}. Each visitor keeps the starts they were shown, and the recording begins then.
      </p>
    </>
  )
}

function Clock({ label, at, onChange }: { label: string; at: number; onChange: (at: number) => void }) {
  return (
    <TextField
      label={label}
      type="time"
      value={webinarClockWords(at)}
      onChange={(e) => e.target.value && onChange(minuteOf(e.target.value))}
    />
  )
}
