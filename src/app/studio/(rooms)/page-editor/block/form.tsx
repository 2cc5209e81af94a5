"use client"

import type { Field as PersonField } from "@/core/person/field"
import { Check } from "@/ui/check"
import { option, TextArea, TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Form: SettingsOf<"form"> = ({ block, fields, onChange }) => {
  return (
    <div className="space-y-3">
      <TextField
        label="Button text"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <Check checked={block.askName} onChange={(askName) => onChange({ askName }, "askName")}>
        Ask for the first name
      </Check>
      <AskedFields asks={block.fields ?? []} fields={fields} onChange={(f) => onChange({ fields: f }, "fields")} />
      <Check
        checked={block.confirm}
        onChange={(confirm) => onChange({ confirm }, "confirm")}
        hint={
          block.confirm
            ? "Double opt-in: proof that the address is theirs, kept with the consent."
            : "The e-mails begin at once for a new address, though anybody can have typed it."
        }
      >
        Confirm by e-mail (double opt-in)
      </Check>
      <TextArea
        label="Consent"
        hint="These words are kept with each person's consent."
        rows={5}
        maxLength={600}
        value={block.consent}
        onChange={(e) => onChange({ consent: e.target.value }, "consent")}
      />
    </div>
  )
}

type Ask = { field: number; required: boolean }

/** Which of the school's fields the form asks for, in their order. */
function AskedFields({
  asks,
  fields,
  onChange,
}: {
  asks: readonly Ask[]
  fields: readonly PersonField[]
  onChange: (asks: Ask[]) => void
}) {
  const left = fields.filter((f) => !asks.some((a) => a.field === f.id))
  return (
    <fieldset>
      <legend className="mb-1 text-label font-semibold">Ask besides</legend>
      <ul>
        {asks.map((a, i) => {
          const name = fields.find((f) => f.id === a.field)?.label ?? "No longer there"
          return (
            <li key={a.field} className="border-t border-line py-1.5">
              <div className="flex items-baseline gap-2">
                <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">{name}</span>
                {i > 0 ? (
                  <button
                    type="button"
                    aria-label={`Move up: ${name}`}
                    className="min-h-6 px-1.5 text-soft hover:text-ink"
                    onClick={() => onChange(asks.with(i, asks[i - 1]!).with(i - 1, a))}
                  >
                    ↑
                  </button>
                ) : null}
                <button
                  type="button"
                  aria-label={`Don’t ask: ${name}`}
                  className="min-h-6 px-1.5 text-soft hover:text-dusk"
                  onClick={() => onChange(asks.filter((x) => x !== a))}
                >
                  ×
                </button>
              </div>
              <Check checked={a.required} onChange={(required) => onChange(asks.with(i, { ...a, required }))}>
                An answer is needed
              </Check>
            </li>
          )
        })}
      </ul>
      {left.length && asks.length < 10 ? (
        <select
          aria-label="Ask for a field"
          className="mt-1 min-h-9 w-full rounded-md border border-line bg-card px-2"
          value=""
          onChange={(e) => onChange([...asks, { field: Number(e.target.value), required: false }])}
        >
          <option value="">Ask for…</option>
          {left.map((f) => option(f.id, f.label))}
        </select>
      ) : null}
      {fields.length ? null : (
        <p className="text-fine text-soft">
          Fields are made in{" "}
          <a className="text-slate underline" href="/studio/people/fields">
            People › Fields
          </a>
          .
        </p>
      )}
    </fieldset>
  )
}
