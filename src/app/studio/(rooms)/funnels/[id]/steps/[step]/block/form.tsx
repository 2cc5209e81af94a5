"use client"

import { Field, TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Form: SettingsOf<"form"> = ({ block, onChange }) => {
  return (
    <div className="space-y-3">
      <TextField
        label="Button text"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-slate"
          checked={block.askName}
          onChange={(e) => onChange({ askName: e.target.checked }, "askName")}
        />{" "}
        Ask for the first name
      </label>
      <div>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-slate"
            checked={block.confirm}
            aria-describedby={`${block.id}-confirm`}
            onChange={(e) => onChange({ confirm: e.target.checked }, "confirm")}
          />{" "}
          Begin only after the press in their mailbox
        </label>
        <p id={`${block.id}-confirm`} className="mt-1 text-[0.84rem] text-soft">
          {block.confirm
            ? "Double opt-in: proof that the address is theirs, kept with the consent."
            : "The e-mails begin at once for a new address, though anybody can have typed it."}
        </p>
      </div>
      <Field label="Consent" hint="These words are kept with each person's consent.">
        {(p) => (
          <textarea
            {...p}
            rows={5}
            maxLength={600}
            value={block.consent}
            onChange={(e) => onChange({ consent: e.target.value }, "consent")}
          />
        )}
      </Field>
    </div>
  )
}
