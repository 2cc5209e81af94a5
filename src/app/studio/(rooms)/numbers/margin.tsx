"use client"

import { useState } from "react"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { setMarginAction } from "./actions"

/** What is to be left of what a visitor brings. */
export function Margin({ percent }: { percent: number }) {
  const [typed, setTyped] = useState(String(percent))
  const { busy, run, refused } = useAction()
  return (
    <form
      className="mt-1.5 flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        run(() => setMarginAction(Number(typed)))
      }}
    >
      <label className="flex items-center gap-1.5 text-note">
        To be left, in percent
        <input
          inputMode="decimal"
          value={typed}
          className="w-16 rounded-md border border-line bg-card px-2 py-1 text-right"
          onChange={(e) => setTyped(e.target.value)}
        />
      </label>
      <Button type="submit" disabled={busy || Number(typed) === percent}>
        Reckon
      </Button>
      <Refusal>{refused}</Refusal>
    </form>
  )
}
