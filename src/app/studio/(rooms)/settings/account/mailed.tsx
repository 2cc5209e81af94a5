"use client"

import { useState, useTransition } from "react"
import { Check } from "@/ui/check"
import { mailsCommentsAction } from "../actions"

/** What the school mails to whoever works in it. */
export function Mailed({ comments }: { comments: boolean }) {
  const [on, setOn] = useState(comments)
  const [, start] = useTransition()
  return (
    <section aria-label="What is mailed to you">
      <h2>What is mailed to you</h2>
      <div className="mt-2">
        <Check
          checked={on}
          onChange={(next) => {
            setOn(next)
            start(() => mailsCommentsAction(next))
          }}
          hint="At most one message in ten minutes. Today says what waits for you in any case."
        >
          New comments of learners
        </Check>
      </div>
    </section>
  )
}
