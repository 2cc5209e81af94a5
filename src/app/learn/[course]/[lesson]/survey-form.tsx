"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { SurveyAnswers, SurveyItem } from "@/core/course/survey"
import { Button } from "@/ui/button"
import { Refusal } from "@/ui/refusal"
import { answerSurveyAction } from "../../actions"

type Answer = SurveyAnswers[string]

/** Questions to be answered in one's own way; an answer can be changed later. */
export function SurveyForm({
  slug,
  lesson,
  block,
  items,
  known,
  mine,
}: {
  slug: string
  lesson: number
  block: string
  items: readonly SurveyItem[]
  /** What they answered before. */
  known: SurveyAnswers | undefined
  /** Whether they are signed in with all they have. */
  mine: boolean
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [given, setGiven] = useState<Record<string, Answer>>({ ...known })
  const [refused, setRefused] = useState<{ says: string; at?: string }>({ says: "" })
  const [sent, setSent] = useState(known !== undefined)
  const put = (id: string, answer: Answer) => {
    setSent(false)
    setGiven((g) => ({ ...g, [id]: answer }))
  }
  if (!items.length) return null
  return (
    <form
      aria-label="Survey"
      className="rounded-lg border border-line bg-card p-4 sm:p-5"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const done = await answerSurveyAction({ slug, lesson, block }, given)
          setRefused({ says: done.refused ?? "", at: done.field })
          if (done.refused) return
          setSent(true)
          router.refresh()
        })
      }}
    >
      <fieldset disabled={!mine} className="space-y-5">
        <legend className="sr-only">Survey</legend>
        {items.map((q) => (
          <SurveyField
            key={q.id}
            q={q}
            given={given[q.id]}
            refused={refused.at === q.id ? refused.says : ""}
            onChange={(a) => put(q.id, a)}
          />
        ))}
      </fieldset>
      <Refusal className="mt-3">{!refused.at && refused.says}</Refusal>
      {mine ? (
        <>
          <p role="status" className="mt-3 font-semibold text-reed empty:mt-0">
            {sent ? "Thank you. You can change your answers whenever you like." : ""}
          </p>
          {sent ? null : (
            <Button type="submit" look="primary" disabled={busy} className="mt-3 min-h-11 w-full">
              {known ? "Change my answers" : "Send my answers"}
            </Button>
          )}
        </>
      ) : (
        <p className="mt-3 text-soft">Sign in to answer.</p>
      )}
    </form>
  )
}

function SurveyField({
  q,
  given,
  refused,
  onChange,
}: {
  q: SurveyItem
  given: Answer | undefined
  refused: string
  onChange: (answer: Answer) => void
}) {
  const says = (
    <>
      {q.asks}
      {q.required ? null : <span className="font-normal text-soft"> (if you like)</span>}
    </>
  )
  const wrong = refused ? (
    <p role="alert" className="mt-1 font-semibold text-dusk">
      {refused}
    </p>
  ) : null
  if (q.kind === "text")
    return (
      <label className="block">
        <span className="font-semibold whitespace-pre-line">{says}</span>
        <textarea
          rows={3}
          maxLength={4000}
          value={typeof given === "string" ? given : ""}
          onChange={(e) => onChange(e.target.value)}
          className="mt-1.5 w-full rounded-md border border-line bg-paper px-3 py-2"
        />
        {wrong}
      </label>
    )
  if (q.kind === "scale")
    return (
      <fieldset>
        <legend className="font-semibold whitespace-pre-line">{says}</legend>
        <div className="mt-1.5 flex flex-wrap gap-1.5">
          {Array.from({ length: q.most }, (_, i) => i + 1).map((n) => (
            <label
              key={n}
              className="flex min-h-11 min-w-11 flex-1 cursor-pointer flex-col items-center justify-center gap-1 rounded-md border border-line bg-paper py-1.5"
            >
              <input
                type="radio"
                className="size-4 accent-slate"
                checked={given === n}
                onChange={() => onChange(n)}
                name={q.id}
              />
              {n}
            </label>
          ))}
        </div>
        {q.low || q.high ? (
          <p className="mt-1 flex justify-between gap-4 text-body text-soft">
            <span>{q.low}</span>
            <span className="text-right">{q.high}</span>
          </p>
        ) : null}
        {wrong}
      </fieldset>
    )
  const chosen = Array.isArray(given) ? (given as number[]) : []
  return (
    <fieldset>
      <legend className="font-semibold whitespace-pre-line">{says}</legend>
      {q.options.map((o, n) =>
        o.trim() ? (
          <label
            key={`${q.id}-${n}`}
            className="mt-1 flex min-h-11 items-center gap-3 rounded-md border border-line bg-paper px-3 py-1.5"
          >
            <input
              type={q.several ? "checkbox" : "radio"}
              name={q.id}
              className="size-4 accent-slate"
              checked={chosen.includes(n)}
              onChange={() =>
                onChange(!q.several ? [n] : chosen.includes(n) ? chosen.filter((x) => x !== n) : [...chosen, n])
              }
            />
            {o}
          </label>
        ) : null,
      )}
      {wrong}
    </fieldset>
  )
}
