"use client"

import { outcomes, outcomesOf } from "@/core/funnel/step/list"
import type { ButtonTarget } from "@/core/page/block/kind"
import { SelectField, TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const ButtonBlock: SettingsOf<"button"> = ({ block, of, onChange }) => {
  if (!of) return null
  const { step, funnel } = of
  return (
    <div className="space-y-3">
      <SelectField
        label="Leads to"
        value={targetKey(block.leads)}
        onChange={(e) => onChange({ leads: targetOf(e.target.value) }, "leads")}
        error={block.leads === null ? "It leads nowhere yet." : undefined}
      >
        <option value="">Nowhere yet</option>
        {outcomesOf(step.kind).includes("joined") ? <option value="form">the form on this page</option> : null}
        {outcomesOf(step.kind)
          .filter((o) => o !== "joined" && o !== "confirmed")
          .map((o) => (
            <option key={o} value={`outcome:${o}`}>
              onward: whoever {outcomes[o].verb}
            </option>
          ))}
        {funnel.steps
          .filter((s) => s.id !== step.id)
          .map((s) => (
            <option key={s.id} value={`step:${s.id}`}>
              the step: {s.name}
            </option>
          ))}
      </SelectField>
      <TextField
        label="Text"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
    </div>
  )
}

function targetKey(t: ButtonTarget | null): string {
  if (!t) return ""
  return t.to === "form" ? "form" : t.to === "step" ? `step:${t.step}` : `outcome:${t.outcome}`
}

function targetOf(key: string): ButtonTarget | null {
  const [to, what] = key.split(":")
  if (to === "form") return { to }
  if (to === "step") return { to, step: Number(what) }
  return to === "outcome" ? { to, outcome: what as "started" } : null
}
