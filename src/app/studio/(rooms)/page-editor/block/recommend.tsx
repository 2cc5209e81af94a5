"use client"

import { option, SelectField, TextField } from "@/ui/field"
import type { SettingsOf } from "./settings"

export const Recommend: SettingsOf<"recommend"> = ({ block, offers, onChange }) => (
  <>
    <SelectField
      label="What is recommended"
      value={block.recommends ?? ""}
      onChange={(e) => onChange({ recommends: Number(e.target.value) || null }, "recommends")}
      hint="It shows while this offer’s programme for affiliates is on."
      error={block.recommends === null ? "No offer yet." : undefined}
    >
      <option value="">No offer yet</option>
      {offers.map((o) => option(o.id, o.name))}
    </SelectField>
    <TextField
      label="What it asks"
      value={block.invites}
      maxLength={300}
      placeholder="Do you know somebody who would like this?"
      onChange={(e) => onChange({ invites: e.target.value }, "invites")}
    />
  </>
)
