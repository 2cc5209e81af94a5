"use client"

import { option, SelectField } from "@/ui/field"
import { Upload } from "../../upload"

export type EditorMedia = {
  readonly id: number
  readonly kind: "picture" | "video" | "file"
  readonly name: string
  readonly url: string
}

/** Chooses among what has been uploaded, or uploads. */
export function MediaField({
  kind,
  label,
  value,
  media,
  onChange,
  onUploaded,
}: {
  kind: EditorMedia["kind"]
  label: string
  value: number | null
  media: readonly EditorMedia[]
  onChange: (id: number | null) => void
  onUploaded: (m: EditorMedia) => void
}) {
  return (
    <div className="space-y-1.5">
      <SelectField label={label} value={value ?? ""} onChange={(e) => onChange(Number(e.target.value) || null)}>
        <option value="">None</option>
        {media.filter((m) => m.kind === kind).map((m) => option(m.id, m.name))}
      </SelectField>
      <Upload
        kind={kind}
        label={`${label}: upload another`}
        onDone={(done) => {
          onUploaded({ ...done, kind })
          onChange(done.id)
        }}
      />
    </div>
  )
}
