"use client"
import { useState } from "react"
import { type Field, isChosen, showValue } from "@/core/person/field"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { setFieldAction } from "../actions"

/** What is known of somebody by the school's fields; each can be changed. `known`: as it is kept, by field. */
export function PersonFields({
  person,
  fields,
  known,
}: {
  person: number
  fields: readonly Field[]
  known: Readonly<Record<number, string>>
}) {
  const [editing, setEditing] = useState<number | null>(null)
  return (
    <section aria-label="Fields">
      <h2>Fields</h2>
      {fields.map((f) =>
        editing === f.id ? (
          <Change key={f.id} person={person} field={f} kept={known[f.id] ?? ""} done={() => setEditing(null)} />
        ) : (
          <div key={f.id} className="mt-1 flex items-baseline gap-2">
            <p className="min-w-0 flex-1 [overflow-wrap:anywhere]">
              {known[f.id] === undefined ? <span className="text-soft">Not known</span> : showValue(f, known[f.id]!)}
              <span className="block text-note text-soft">{f.label}</span>
            </p>
            <button
              type="button"
              aria-label={`Change: ${f.label}`}
              className="min-h-6 text-note text-slate hover:underline"
              onClick={() => setEditing(f.id)}
            >
              Change
            </button>
          </div>
        ),
      )}
    </section>
  )
}

function Change({ person, field, kept, done }: { person: number; field: Field; kept: string; done: () => void }) {
  const { busy, refused, run } = useAction()
  const [typed, setTyped] = useState(kept)
  return (
    <form
      className="mt-1 space-y-2"
      onSubmit={(e) => {
        e.preventDefault()
        run(() => setFieldAction(person, field.id, typed), done)
      }}
    >
      {isChosen(field) ? (
        <SelectField label={field.label} value={typed} error={refused} onChange={(e) => setTyped(e.target.value)}>
          <option value="">Not known</option>
          {field.choices.map((c) => option(c.id, c.says))}
        </SelectField>
      ) : (
        <TextField
          label={field.label}
          type={field.kind === "date" ? "date" : "text"}
          value={typed}
          error={refused}
          maxLength={500}
          onChange={(e) => setTyped(e.target.value)}
        />
      )}
      <div className="flex gap-2">
        <Button type="submit" look="primary" disabled={busy}>
          Save
        </Button>
        <Button onClick={done}>Cancel</Button>
      </div>
    </form>
  )
}
