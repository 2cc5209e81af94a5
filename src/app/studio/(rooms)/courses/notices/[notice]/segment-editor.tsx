"use client"

import type { Condition, ConditionKind, Segment } from "@/core/person/segment"
import type { Named, NoticeChoices } from "@/server/notice/notice-view"
import { Button } from "@/ui/button"
import { SelectField, TextField } from "@/ui/field"

const kinds: Readonly<Record<ConditionKind, string>> = {
  "signed-in": "Signed in or not",
  tag: "A tag",
  course: "A course",
  offer: "An offer",
  progress: "How far in a course",
}

/** For whom something is: conditions that must all hold. */
export function SegmentEditor({
  value,
  choices,
  onChange,
}: {
  value: Segment
  choices: NoticeChoices
  onChange: (segment: Segment) => void
}) {
  const put = (i: number, c: Condition) => onChange(value.with(i, c))
  return (
    <fieldset>
      <legend className="mb-1 text-[0.87rem] font-semibold">For whom</legend>
      {value.length ? null : <p className="text-soft">Everybody who comes there.</p>}
      <ul className="space-y-2">
        {value.map((c, i) => (
          <li key={`${c.kind}-${i}`} className="flex flex-wrap items-end gap-2 rounded-md border border-line p-2">
            <ConditionFields c={c} choices={choices} onChange={(next) => put(i, next)} />
            <button
              type="button"
              className="ml-auto min-h-8 text-[0.87rem] text-dusk hover:underline"
              aria-label={`Remove condition ${i + 1}`}
              onClick={() => onChange(value.toSpliced(i, 1))}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      {value.length < 10 ? (
        <div className="mt-2 flex flex-wrap items-baseline gap-2">
          <span className="text-[0.9rem] text-soft">{value.length ? "And:" : "Only those, by:"}</span>
          {(Object.keys(kinds) as ConditionKind[]).map((kind) => {
            const fresh = blank(kind, choices)
            return fresh ? (
              <Button key={kind} onClick={() => onChange([...value, fresh])}>
                {kinds[kind]}
              </Button>
            ) : null
          })}
        </div>
      ) : null}
      {value.length > 1 ? <p className="mt-1 text-[0.87rem] text-soft">All of it must be so.</p> : null}
    </fieldset>
  )
}

/** A new condition about the first of what there is; null where there is none. */
function blank(kind: ConditionKind, choices: NoticeChoices): Condition | null {
  const first = (all: readonly Named[]) => all[0]?.id
  switch (kind) {
    case "signed-in":
      return { kind, is: true }
    case "tag": {
      const tag = first(choices.tags)
      return tag ? { kind, tag, has: true } : null
    }
    case "course": {
      const course = first(choices.courses)
      return course ? { kind, course, has: true } : null
    }
    case "offer": {
      const offer = first(choices.offers)
      return offer ? { kind, offer, has: false } : null
    }
    case "progress": {
      const course = first(choices.courses)
      return course ? { kind, course, from: 0, to: 100 } : null
    }
  }
}

function ConditionFields({
  c,
  choices,
  onChange,
}: {
  c: Condition
  choices: NoticeChoices
  onChange: (c: Condition) => void
}) {
  switch (c.kind) {
    case "signed-in":
      return <Has is={c.is} yes="are signed in" no="are not signed in" onChange={(is) => onChange({ ...c, is })} />
    case "tag":
      return (
        <>
          <Has is={c.has} yes="have the tag" no="don’t have the tag" onChange={(has) => onChange({ ...c, has })} />
          <Which label="Tag" all={choices.tags} value={c.tag} onChange={(tag) => onChange({ ...c, tag })} />
        </>
      )
    case "course":
      return (
        <>
          <Has is={c.has} yes="have" no="don’t have" onChange={(has) => onChange({ ...c, has })} />
          <Which
            label="Course"
            all={choices.courses}
            value={c.course}
            onChange={(course) => onChange({ ...c, course })}
          />
        </>
      )
    case "offer":
      return (
        <>
          <Has is={c.has} yes="have all of" no="don’t have all of" onChange={(has) => onChange({ ...c, has })} />
          <Which label="Offer" all={choices.offers} value={c.offer} onChange={(offer) => onChange({ ...c, offer })} />
        </>
      )
    case "progress":
      return (
        <>
          <Which
            label="They have done of"
            all={choices.courses}
            value={c.course}
            onChange={(course) => onChange({ ...c, course })}
          />
          <Percent label="From, %" value={c.from} onChange={(from) => onChange({ ...c, from })} />
          <Percent label="To, %" value={c.to} onChange={(to) => onChange({ ...c, to })} />
        </>
      )
  }
}

function Has({ is, yes, no, onChange }: { is: boolean; yes: string; no: string; onChange: (is: boolean) => void }) {
  return (
    <div className="w-44">
      <SelectField label="They" value={is ? "1" : ""} onChange={(e) => onChange(e.target.value === "1")}>
        <option value="1">{yes}</option>
        <option value="">{no}</option>
      </SelectField>
    </div>
  )
}

function Which({
  label,
  all,
  value,
  onChange,
}: {
  label: string
  all: readonly Named[]
  value: number
  onChange: (id: number) => void
}) {
  return (
    <div className="min-w-40 flex-1">
      <SelectField label={label} value={value} onChange={(e) => onChange(Number(e.target.value))}>
        {all.some((x) => x.id === value) ? null : <option value={value}>No longer there</option>}
        {all.map((x) => (
          <option key={x.id} value={x.id}>
            {x.name}
          </option>
        ))}
      </SelectField>
    </div>
  )
}

function Percent({ label, value, onChange }: { label: string; value: number; onChange: (n: number) => void }) {
  return (
    <div className="w-24">
      <TextField
        label={label}
        type="number"
        min={0}
        max={100}
        value={value}
        onChange={(e) => onChange(Math.min(100, Math.max(0, Math.round(e.target.valueAsNumber) || 0)))}
      />
    </div>
  )
}
