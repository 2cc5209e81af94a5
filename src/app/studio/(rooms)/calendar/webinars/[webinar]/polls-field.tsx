"use client"

import type { Poll } from "@/core/webinar/webinar"
import { Button } from "@/ui/button"
import { TextArea, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { NumberField } from "./number-field"

/** What is asked in the room, each from its minute on. */
export function PollsField({
  value,
  error,
  onChange,
}: {
  value: readonly Poll[]
  error?: string
  onChange: (polls: Poll[]) => void
}) {
  const put = (i: number, change: Partial<Poll>) => onChange(value.map((p, j) => (i === j ? { ...p, ...change } : p)))
  return (
    <>
      {value.map((p, i) => (
        <fieldset key={p.id} className="mt-3 grid grid-cols-1 gap-3 border-t border-line pt-3 sm:grid-cols-[1fr_8rem]">
          <legend className="sr-only">Poll {i + 1}</legend>
          <TextField
            label="Question"
            value={p.question}
            maxLength={200}
            onChange={(e) => put(i, { question: e.target.value })}
          />
          <NumberField label="From minute" value={p.minute} onChange={(minute) => put(i, { minute })} />
          <TextArea
            label="Answers, one a line"
            rows={Math.max(3, p.answers.length)}
            value={p.answers.join("\n")}
            onChange={(e) => put(i, { answers: e.target.value.split("\n").slice(0, 8) })}
          />
          <p className="self-end">
            <Button look="quiet" onClick={() => onChange(value.filter((_, j) => j !== i))}>
              Remove it
            </Button>
          </p>
        </fieldset>
      ))}
      <Refusal className="mt-1 text-fine">{error}</Refusal>
      <Button
        className="mt-3"
        disabled={value.length >= 10}
        onClick={() =>
          onChange([
            ...value,
            {
              id: 1 + Math.max(0, ...value.map((p) => p.id)),
              minute: 10,
              question: "What brings you here?",
              answers: ["I am new to this", "I have tried before"],
            },
          ])
        }
      >
        Add a poll
      </Button>
    </>
  )
}
