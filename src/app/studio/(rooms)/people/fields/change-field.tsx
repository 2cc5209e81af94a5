"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import type { Field } from "@/core/person/field"
import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { Confirm } from "@/ui/confirm"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { removeFieldAction, renameFieldAction, saveChoicesAction } from "./actions"

/** Another name for a field, and what can be chosen where it is a choice. */
export function ChangeField({ field }: { field: Field }) {
  const { busy, refused, run } = useAction()
  const [label, setLabel] = useState(field.label)
  return (
    <div className="mt-3 max-w-2xl space-y-4">
      <form
        className="flex items-start gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          run(() => renameFieldAction(field.id, label))
        }}
      >
        <div className="flex-1">
          <TextField
            label="Name"
            value={label}
            maxLength={60}
            required
            error={refused || undefined}
            onChange={(e) => setLabel(e.target.value)}
          />
        </div>
        <Button type="submit" className="mt-6" disabled={busy || label.trim() === field.label}>
          Rename
        </Button>
      </form>
      {field.kind === "choice" ? <Choices field={field} /> : null}
    </div>
  )
}

type Row = { readonly id: number | null; readonly says: string }

function Choices({ field }: { field: Field }) {
  const { busy, refused, run } = useAction()
  const [rows, setRows] = useState<readonly Row[]>([...field.choices, { id: null, says: "" }])
  const said = rows.filter((r) => r.says.trim())
  const type = (i: number, says: string) => {
    const typed = rows.with(i, { ...rows[i]!, says })
    setRows(i === rows.length - 1 && says ? [...typed, { id: null, says: "" }] : typed)
  }
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        run(() => saveChoicesAction(field.id, said))
      }}
    >
      <fieldset>
        <legend className="mb-1 text-label font-semibold">Choices</legend>
        {rows.map((r, i) => (
          <div key={i} className="flex items-center gap-1 py-0.5">
            <input
              aria-label={`Choice ${i + 1}`}
              className="min-h-9 min-w-0 flex-1 rounded-md border border-line bg-card px-2.5"
              value={r.says}
              maxLength={80}
              placeholder={i === rows.length - 1 ? "One more" : "Empty: it goes"}
              onChange={(e) => type(i, e.target.value)}
            />
            {i > 0 && r.says ? (
              <button
                type="button"
                aria-label={`Move up: ${r.says}`}
                className="min-h-6 px-1.5 text-soft hover:text-ink"
                onClick={() => setRows(rows.with(i, rows[i - 1]!).with(i - 1, r))}
              >
                ↑
              </button>
            ) : null}
          </div>
        ))}
      </fieldset>
      <Refusal className="mt-1">{refused}</Refusal>
      <Button type="submit" className="mt-2" disabled={busy || !said.length}>
        Save the choices
      </Button>
    </form>
  )
}

/** Asks before a field is removed, with what is known by it. */
export function RemoveField({ field, people, uses }: { field: Field; people: number; uses: number }) {
  const router = useRouter()
  if (uses) return <p className="mt-4 text-soft">It can be removed once nothing uses it.</p>
  return (
    <Confirm
      className="mt-4"
      opens="Remove this field"
      title={`Remove the field “${field.label}”?`}
      does="Remove it"
      keeps="Keep it"
      act={() => removeFieldAction(field.id)}
      then={() => router.push("/studio/people/fields")}
    >
      {people === 0
        ? "Nobody has answered it."
        : people === 1
          ? "What one person answered is lost."
          : `What ${people.toLocaleString(locale)} people answered is lost.`}
    </Confirm>
  )
}
