"use client"

import { useState, useTransition } from "react"
import { Check } from "@/ui/check"
import { mailsReportAction } from "../../settings/actions"

/** Whether the week before is mailed to whoever is signed in. */
export function EachMonday({ on: now }: { on: boolean }) {
  const [on, setOn] = useState(now)
  const [, start] = useTransition()
  return (
    <div className="mr-2">
      <Check
        checked={on}
        onChange={(next) => {
          setOn(next)
          start(() => mailsReportAction(next))
        }}
      >
        Mail me the week before, each Monday
      </Check>
    </div>
  )
}
