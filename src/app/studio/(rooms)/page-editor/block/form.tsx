"use client"

import { Check } from "@/ui/check"
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
      <Check checked={block.askName} onChange={(askName) => onChange({ askName }, "askName")}>
        Ask for the first name
      </Check>
      <Check
        checked={block.confirm}
        onChange={(confirm) => onChange({ confirm }, "confirm")}
        hint={
          block.confirm
            ? "Double opt-in: proof that the address is theirs, kept with the consent."
            : "The e-mails begin at once for a new address, though anybody can have typed it."
        }
      >
        Begin only after the press in their mailbox
      </Check>
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
