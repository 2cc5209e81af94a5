"use client"

import { useState } from "react"
import { looks } from "@/core/page/style"
import { SelectField, TextField } from "@/ui/field"
import { saveWords, useSaved } from "@/ui/use-saved"
import { saveSchoolAction } from "./actions"

export function SettingsForm({
  school,
  zones,
}: {
  school: {
    name: string
    sender_name: string
    sender_email: string
    postal_address: string
    zone: string
    look: string
  }
  zones: readonly string[]
}) {
  const [f, set] = useState({
    name: school.name,
    senderName: school.sender_name,
    senderEmail: school.sender_email,
    postalAddress: school.postal_address,
    zone: school.zone,
    look: school.look,
  })
  const saved = useSaved(f, async (v) => saveSchoolAction(v))
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  const text = (key: "name" | "senderName" | "senderEmail" | "postalAddress", label: string, hint?: string) => (
    <TextField
      label={label}
      hint={hint}
      value={f[key]}
      onChange={(e) => set({ ...f, [key]: e.target.value })}
      error={error(key)}
    />
  )
  return (
    <div className="mt-4 space-y-6">
      <p role="status" className="text-[0.9rem] text-soft">
        {saveWords(saved)}
      </p>
      <section className="space-y-4">
        <h2>The school</h2>
        {text("name", "Name")}
        <SelectField
          label="Time zone"
          value={f.zone}
          onChange={(e) => set({ ...f, zone: e.target.value })}
          hint="Days in the studio begin and end here."
        >
          {(zones.includes(f.zone) ? zones : [f.zone, ...zones]).map((z) => (
            <option key={z}>{z}</option>
          ))}
        </SelectField>
        <SelectField
          label="Look of the pages"
          value={f.look}
          onChange={(e) => set({ ...f, look: e.target.value })}
          hint="Published pages change when you publish again."
        >
          {Object.entries(looks).map(([key, l]) => (
            <option key={key} value={key}>
              {l.name}
            </option>
          ))}
        </SelectField>
      </section>
      <section className="space-y-4">
        <h2>Sender of the e-mails</h2>
        {text("senderName", "Name")}
        {text("senderEmail", "Address")}
        {text("postalAddress", "Postal address", "It stands below each page and e-mail; in many countries it has to.")}
      </section>
    </div>
  )
}
