"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { everybody } from "@/core/person/segment/segment"
import type { SegmentChoices } from "@/server/person/segment-view"
import { Button } from "@/ui/button"
import { tryQuestionAction } from "../../../people/actions"
import { SegmentEditor } from "../../../segment-editor/segment-editor"
import { people } from "../../../words"
import { beginForAction, removeSequenceAction } from "../actions"

/** Begins it for everybody of a question at once; and removes it. */
export function BeginByHand({ sequence, live, choices }: { sequence: number; live: boolean; choices: SegmentChoices }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [question, setQuestion] = useState(everybody)
  const [found, setFound] = useState<number | null>(null)
  const [said, setSaid] = useState("")
  return (
    <section aria-label="By hand" className="mt-6 border-t border-line pt-3">
      <details>
        <summary className="text-slate">Begin it by hand for many people</summary>
        <div className="mt-3 max-w-2xl space-y-3">
          {live ? null : <p className="font-semibold text-amber-text">Put it live first.</p>}
          <SegmentEditor
            value={question}
            choices={choices}
            onChange={(q) => {
              setQuestion(q)
              setFound(null)
            }}
          />
          {found === null ? (
            <Button
              disabled={busy || !live}
              onClick={() =>
                start(async () => {
                  const came = await tryQuestionAction(question)
                  setFound("total" in came ? came.total : 0)
                })
              }
            >
              Count them
            </Button>
          ) : (
            <Button
              look="primary"
              disabled={busy || found === 0}
              onClick={() =>
                start(async () => {
                  const came = await beginForAction(sequence, question)
                  setSaid("refused" in came ? came.refused : `It began for ${people(came.begun)}.`)
                  setFound(null)
                  router.refresh()
                })
              }
            >
              Begin it for {people(found)}
            </Button>
          )}
          <p className="text-soft">Whoever has had it, is at its goal or takes no e-mails is left out.</p>
        </div>
      </details>
      <p className="mt-3">
        <Button
          look="danger"
          disabled={busy}
          onClick={() =>
            start(async () => {
              const done = await removeSequenceAction(sequence)
              if (done.refused) setSaid(done.refused)
              else router.push("/studio/mail/sequences")
            })
          }
        >
          Remove the sequence
        </Button>
      </p>
      <p role="status" className="mt-1">
        {said}
      </p>
    </section>
  )
}
