"use client"

import { type Condition, type ConditionKind, conditionKinds } from "@/core/person/segment/list"
import { type Group, isGroup, type Segment } from "@/core/person/segment/segment"
import type { SegmentChoices } from "@/server/person/segment-view"
import { Button } from "@/ui/button"
import { option, SelectField } from "@/ui/field"
import { ConditionFields, freshCondition } from "./condition-fields"

/** Of whoever is known it isn't asked whether they are signed in. */
const knownKinds = (Object.keys(conditionKinds) as ConditionKind[]).filter(
  (k) => conditionKinds[k].label !== conditionKinds["signed-in"].label,
)

/** A question about people: conditions and groups of them, all of which must hold or one of which is enough. */
export function SegmentEditor({
  legend = "For whom",
  value,
  choices,
  kinds = knownKinds,
  onChange,
}: {
  legend?: string
  value: Segment
  choices: SegmentChoices
  /** The kinds of condition that can be asked here; without it those of somebody who is known. */
  kinds?: readonly ConditionKind[]
  onChange: (segment: Segment) => void
}) {
  const put = (i: number, part: Condition | Group) => onChange({ ...value, parts: value.parts.with(i, part) })
  const remove = (i: number) => onChange({ ...value, parts: value.parts.toSpliced(i, 1) })
  return (
    <fieldset>
      <legend className="mb-1 text-label font-semibold">{legend}</legend>
      {value.parts.length ? null : <p className="text-soft">Everybody.</p>}
      <ul className="space-y-2">
        {value.parts.map((part, i) => (
          <li key={`${i}-${isGroup(part) ? "group" : part.kind}`}>
            {i ? <Joint match={value.match} onChange={(match) => onChange({ ...value, match })} /> : null}
            {isGroup(part) ? (
              <GroupFields
                group={part}
                n={i + 1}
                choices={choices}
                kinds={kinds}
                onChange={(g) => put(i, g)}
                onRemove={() => remove(i)}
              />
            ) : (
              <One c={part} n={`${i + 1}`} choices={choices} onChange={(c) => put(i, c)} onRemove={() => remove(i)} />
            )}
          </li>
        ))}
      </ul>
      {value.parts.length < 20 ? (
        <Add
          says={value.parts.length ? "And also" : "Only those"}
          kinds={kinds}
          choices={choices}
          onAdd={(c) => onChange({ ...value, parts: [...value.parts, c] })}
          onGroup={() => onChange({ ...value, parts: [...value.parts, { match: "any", not: false, parts: [] }] })}
        />
      ) : null}
    </fieldset>
  )
}

function GroupFields({
  group,
  n,
  choices,
  kinds,
  onChange,
  onRemove,
}: {
  group: Group
  n: number
  choices: SegmentChoices
  kinds: readonly ConditionKind[]
  onChange: (group: Group) => void
  onRemove: () => void
}) {
  return (
    <section aria-label={`Group ${n}`} className="rounded-md border border-line bg-card p-2">
      <div className="flex items-end gap-2">
        <div className="w-56">
          <SelectField
            label="They"
            value={group.not ? "not" : ""}
            onChange={(e) => onChange({ ...group, not: e.target.value === "not" })}
          >
            <option value="">are what the group says</option>
            <option value="not">are not what it says</option>
          </SelectField>
        </div>
        <Remove name={`group ${n}`} onClick={onRemove} />
      </div>
      <ul className="mt-2 space-y-2">
        {group.parts.map((c, i) => (
          <li key={`${i}-${c.kind}`}>
            {i ? <Joint match={group.match} onChange={(match) => onChange({ ...group, match })} /> : null}
            <One
              c={c}
              n={`${n}.${i + 1}`}
              choices={choices}
              onChange={(next) => onChange({ ...group, parts: group.parts.with(i, next) })}
              onRemove={() => onChange({ ...group, parts: group.parts.toSpliced(i, 1) })}
            />
          </li>
        ))}
      </ul>
      {group.parts.length < 10 ? (
        <Add
          says="In the group"
          kinds={kinds}
          choices={choices}
          onAdd={(c) => onChange({ ...group, parts: [...group.parts, c] })}
        />
      ) : null}
    </section>
  )
}

function One({
  c,
  n,
  choices,
  onChange,
  onRemove,
}: {
  c: Condition
  n: string
  choices: SegmentChoices
  onChange: (c: Condition) => void
  onRemove: () => void
}) {
  return (
    <div className="flex flex-wrap items-end gap-2 rounded-md border border-line bg-paper p-2">
      <ConditionFields c={c} choices={choices} onChange={onChange} />
      <Remove name={`condition ${n}`} onClick={onRemove} />
    </div>
  )
}

function Remove({ name, onClick }: { name: string; onClick: () => void }) {
  return (
    <button
      type="button"
      className="ml-auto min-h-8 text-label text-dusk hover:underline"
      aria-label={`Remove ${name}`}
      onClick={onClick}
    >
      Remove
    </button>
  )
}

/** The word between two parts: pressed, it becomes the other one, for all of them. */
function Joint({ match, onChange }: { match: "all" | "any"; onChange: (match: "all" | "any") => void }) {
  return (
    <button
      type="button"
      className="mb-2 min-h-6 rounded px-2 text-label font-semibold text-slate hover:underline"
      title={match === "all" ? "All of it must be so. Press for: one is enough" : "One is enough. Press for: all of it"}
      onClick={() => onChange(match === "all" ? "any" : "all")}
    >
      {match === "all" ? "and" : "or"}
    </button>
  )
}

function Add({
  says,
  kinds,
  choices,
  onAdd,
  onGroup,
}: {
  says: string
  kinds: readonly ConditionKind[]
  choices: SegmentChoices
  onAdd: (c: Condition) => void
  onGroup?: () => void
}) {
  const fresh = kinds.flatMap((kind) => freshCondition(kind, choices) ?? [])
  return (
    <div className="mt-2 flex items-end gap-2">
      <div className="w-64">
        <SelectField
          label={says}
          value=""
          onChange={(e) => {
            const chosen = fresh.find((c) => c.kind === e.target.value)
            if (chosen) onAdd(chosen)
          }}
        >
          <option value="">Add a condition…</option>
          {fresh.map((c) => option(c.kind, conditionKinds[c.kind].label))}
        </SelectField>
      </div>
      {onGroup ? (
        <Button className="whitespace-nowrap" onClick={onGroup}>
          A group
        </Button>
      ) : null}
    </div>
  )
}
