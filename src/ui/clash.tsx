"use client"

import { Button } from "./button"
import type { Clashing } from "./use-shared"

/** Says which words another window has changed, too, and lets one of the two stay. */
export function Clash<T extends object>({
  clash,
  labels,
}: {
  clash: Clashing<T> | null
  labels: Readonly<Record<string, string>>
}) {
  if (!clash) return null
  return (
    <div role="alert" className="mt-3 rounded-md border border-amber bg-amber-wash p-3">
      {clash.fields.map((f) => (
        <p key={f}>
          <strong>{labels[f] ?? f}</strong> was changed in another window{plain(clash.theirs[f as keyof T])}
        </p>
      ))}
      <div className="mt-2 flex gap-2">
        <Button onClick={() => clash.settle("mine")}>Keep mine</Button>
        <Button onClick={() => clash.settle("theirs")}>Take the other</Button>
      </div>
    </div>
  )
}

/** What it was changed to, where that can be said in a line. */
function plain(value: unknown): string {
  if (typeof value === "object" && value !== null) return "."
  const text = String(value ?? "")
    .replace(/<[^>]*>/g, " ")
    .trim()
  return `, to: ${text ? `“${text.slice(0, 160)}”` : "nothing"}`
}
