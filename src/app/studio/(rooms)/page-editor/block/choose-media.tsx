"use client"

import type { ReactNode } from "react"
import { option, SelectField } from "@/ui/field"
import { Upload } from "../../upload"

type Uploaded = Parameters<Parameters<typeof Upload>[0]["onDone"]>[0]

/** Chooses among what has been uploaded, or uploads; `none` stands for nothing chosen. */
export function ChooseMedia({
  label,
  kind,
  none = "None yet",
  upload,
  hint,
  value,
  among,
  onUploaded,
  onChange,
}: {
  label: string
  kind: "picture" | "video" | "file"
  none?: string
  /** What the upload says; not given: after its kind. */
  upload?: string
  hint?: ReactNode
  value: number | null
  among: readonly { readonly id: number; readonly name: string }[]
  onUploaded: (done: Uploaded) => void
  onChange: (media: number | null) => void
}) {
  return (
    <>
      <SelectField
        label={label}
        value={value ?? ""}
        onChange={(e) => onChange(Number(e.target.value) || null)}
        hint={hint}
      >
        <option value="">{none}</option>
        {among.map((m) => option(m.id, m.name))}
      </SelectField>
      <Upload
        kind={kind}
        {...(upload ? { label: upload } : {})}
        onDone={(done) => {
          onUploaded(done)
          onChange(done.id)
        }}
      />
    </>
  )
}
