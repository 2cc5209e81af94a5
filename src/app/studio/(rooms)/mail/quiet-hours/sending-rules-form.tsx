"use client"

import { useState } from "react"
import type { SendingRules } from "@/core/mail/sending-rules"
import { clockWords, weekdays } from "@/core/sequence/words"
import { Check } from "@/ui/check"
import { TextField } from "@/ui/field"
import { saveWords, useSaved } from "@/ui/use-saved"
import { saveSendingRulesAction } from "../broadcasts/actions"

const minuteOf = (time: string) => {
  const [h, m] = time.split(":").map(Number)
  return h! * 60 + m!
}

export function SendingRulesForm({ rules: given }: { rules: SendingRules }) {
  const [m, set] = useState(given)
  const saved = useSaved(m, async (next) => {
    const done = await saveSendingRulesAction(next)
    return done.refused ? { refused: done.refused } : null
  })
  const number = (label: string, key: "perDay" | "perWeek" | "lateAfter", hint: string) => (
    <TextField
      label={label}
      type="number"
      min={1}
      value={m[key] ?? ""}
      hint={hint}
      onChange={(e) => set({ ...m, [key]: e.target.value ? e.target.valueAsNumber : null })}
    />
  )
  return (
    <div className="mt-3 max-w-2xl space-y-4">
      <Check checked={m.hours !== null} onChange={(is) => set({ ...m, hours: is ? { from: 450, until: 1260 } : null })}>
        Only at certain hours, where the reader is
      </Check>
      {m.hours ? (
        <div className="grid grid-cols-2 gap-3 sm:w-96">
          <TextField
            label="From"
            type="time"
            value={clockWords(m.hours.from)}
            onChange={(e) => e.target.value && set({ ...m, hours: { ...m.hours!, from: minuteOf(e.target.value) } })}
          />
          <TextField
            label="Until"
            type="time"
            value={clockWords(m.hours.until)}
            onChange={(e) => e.target.value && set({ ...m, hours: { ...m.hours!, until: minuteOf(e.target.value) } })}
          />
        </div>
      ) : null}
      <fieldset>
        <legend className="mb-1 text-label font-semibold">On these days</legend>
        <div className="flex flex-wrap gap-x-4 gap-y-1">
          {weekdays.map((name, i) => (
            <Check
              key={name}
              checked={m.weekdays.includes(i + 1)}
              onChange={(is) =>
                set({
                  ...m,
                  weekdays: is ? [...m.weekdays, i + 1].sort() : m.weekdays.filter((d) => d !== i + 1),
                })
              }
            >
              {name}
            </Check>
          ))}
        </div>
      </fieldset>
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
        {number("At most on one day", "perDay", "To one person; empty: no limit.")}
        {number("At most in seven days", "perWeek", "To one person; empty: no limit.")}
        {number("Left out when so many hours late", "lateAfter", "Empty: sent, however late.")}
      </div>
      <p role="status" className={`text-note ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}>
        {saveWords(saved)}
      </p>
    </div>
  )
}
