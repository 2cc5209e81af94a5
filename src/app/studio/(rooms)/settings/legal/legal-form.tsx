"use client"

import { useState } from "react"
import { legalNames } from "@/core/page/legal"
import type { LegalInput, LegalRead } from "@/server/page/legal"
import { Button } from "@/ui/button"
import { Clash } from "@/ui/clash"
import { Confirm } from "@/ui/confirm"
import { Refusal } from "@/ui/refusal"
import { RichText } from "@/ui/rich-text"
import { useAction } from "@/ui/use-action"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { putUpLegalAction, saveLegalAction, takeDownLegalAction } from "../actions"

/** One of the legal pages: saved as it is typed, and published by a press. */
export function LegalForm({
  legal,
  skeleton,
  shown,
}: {
  legal: LegalRead
  /** A beginning, from what is set. */
  skeleton: string
  /** The day it was published; null: it isn't. */
  shown: string | null
}) {
  const { kind } = legal
  const name = legalNames[kind]
  const [begun, setBegun] = useState(0)
  const {
    value: f,
    set,
    saved,
    clash,
    turn,
  } = useShared<LegalInput>({ revision: legal.revision, value: legal.value }, (v, before) =>
    saveLegalAction(kind, v, before),
  )
  const { busy, run, refused } = useAction()
  const empty = !f.html.replace(/<[^>]*>/g, "").trim()
  return (
    <section aria-label={name} className="mt-6 border-t border-line pt-4">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
        <h2>{name}</h2>
        <p className="text-note text-soft">
          {shown === null ? (
            "Not published"
          ) : (
            <>
              <a href={`/${kind}`} className="text-slate underline">
                Published on {shown}
              </a>
              {legal.same ? "" : ", changed since"}
            </>
          )}
          <span role="status" className="ml-3">
            {saveWords(saved)}
          </span>
        </p>
      </div>
      <Clash clash={clash} labels={{ html: "Text" }} />
      {empty ? (
        <Button
          className="mt-2"
          onClick={() => {
            set({ html: skeleton })
            setBegun((n) => n + 1)
          }}
        >
          Begin with what is set here
        </Button>
      ) : null}
      <div className="mt-2">
        <RichText key={`${turn}-${begun}`} label={name} value={f.html} onChange={(html) => set({ html })} />
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Button
          look="primary"
          disabled={busy || empty || (legal.same && shown !== null && f.html === legal.value.html)}
          onClick={() => run(() => putUpLegalAction(kind))}
        >
          {busy ? "Publishing…" : "Publish"}
        </Button>
        {shown === null ? null : (
          <Confirm
            opens="Take it down"
            title={`Take ${name} down?`}
            does="Take it down"
            act={() => takeDownLegalAction(kind)}
          >
            The link at the foot of every page goes, and nothing stands at its address. What is written here stays.
          </Confirm>
        )}
        <Refusal>{refused}</Refusal>
      </div>
    </section>
  )
}
