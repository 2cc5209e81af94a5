"use client"

import type { Funnel, Step } from "@/core/funnel/draft"
import { outcomes, outcomesOf } from "@/core/funnel/step/list"
import type { ButtonTarget } from "@/core/page/block/kind"
import { SelectField, TextField } from "@/ui/field"
import { ChooseOffer } from "./choose-about"
import type { SettingsOf } from "./settings"

export const ButtonBlock: SettingsOf<"button"> = ({ block, of, onChange }) => {
  if (!of) return null
  return (
    <div className="space-y-3">
      <ChooseTarget of={of} value={block.leads} onChange={(leads) => onChange({ leads }, "leads")} />
      <TextField
        label="Text"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <TextField
        label="A note beside it"
        value={block.note ?? ""}
        maxLength={300}
        onChange={(e) => onChange({ note: e.target.value }, "note")}
      />
    </div>
  )
}

export const Reach: SettingsOf<"reach"> = ({ block, of, offers, onChange }) => {
  if (!of) return null
  return (
    <div className="space-y-3">
      <p className="text-note text-soft">At the foot of a phone, once the first screen has gone by.</p>
      <ChooseTarget of={of} value={block.leads} onChange={(leads) => onChange({ leads }, "leads")} />
      <TextField
        label="Text"
        value={block.says}
        maxLength={300}
        onChange={(e) => onChange({ says: e.target.value }, "says")}
      />
      <ChooseOffer
        label="Price of"
        none="No price"
        value={block.offer}
        offers={offers}
        onChange={(offer) => onChange({ offer }, "offer")}
      />
    </div>
  )
}

/** Where a button leads. */
function ChooseTarget({
  of: { step, funnel },
  value,
  onChange,
}: {
  of: { readonly step: Step; readonly funnel: Funnel }
  value: ButtonTarget | null
  onChange: (leads: ButtonTarget | null) => void
}) {
  return (
    <SelectField
      label="Leads to"
      value={targetKey(value)}
      onChange={(e) => onChange(targetOf(e.target.value))}
      error={value === null ? "It leads nowhere yet." : undefined}
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
