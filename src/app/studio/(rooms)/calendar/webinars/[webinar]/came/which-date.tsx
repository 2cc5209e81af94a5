"use client"

import { usePathname, useRouter } from "next/navigation"
import { option, SelectField } from "@/ui/field"

/** All dates that are over, or one of them. */
export function WhichDate({
  chosen,
  dates,
}: {
  chosen: number | null
  dates: readonly { readonly id: number; readonly says: string }[]
}) {
  const router = useRouter()
  const path = usePathname()
  return (
    <SelectField
      label="Dates"
      value={chosen ?? ""}
      onChange={(e) => router.push(e.target.value ? `${path}?date=${e.target.value}` : path)}
    >
      <option value="">All that are over</option>
      {dates.map((d) => option(d.id, d.says))}
    </SelectField>
  )
}
