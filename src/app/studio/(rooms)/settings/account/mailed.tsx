"use client"

import { useState, useTransition } from "react"
import { Check } from "@/ui/check"
import { mailsCommentsAction, mailsReportAction } from "../actions"

/** What the school mails to whoever works in it. */
export function Mailed({ comments, report }: { comments: boolean; report: boolean }) {
  return (
    <section aria-label="What is mailed to you">
      <h2>What is mailed to you</h2>
      <div className="mt-2 space-y-2">
        <Switched
          on={comments}
          save={mailsCommentsAction}
          says="New comments of learners"
          hint="At most one message in ten minutes. Today says what waits for you in any case."
        />
        <Switched
          on={report}
          save={mailsReportAction}
          says="What the week before brought, each Monday"
          hint="What stands in Numbers, in a few sentences, with a PDF."
        />
      </div>
    </section>
  )
}

function Switched({
  on: now,
  save,
  says,
  hint,
}: {
  on: boolean
  save: (on: boolean) => Promise<void>
  says: string
  hint: string
}) {
  const [on, setOn] = useState(now)
  const [, start] = useTransition()
  return (
    <Check
      checked={on}
      onChange={(next) => {
        setOn(next)
        start(() => save(next))
      }}
      hint={hint}
    >
      {says}
    </Check>
  )
}
