"use client"

import { type QuestionKind, type QuizQuestion, questionGap } from "@/core/course/quiz"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { TextArea, TextField } from "@/ui/field"
import { freeQuestion, QuestionCard } from "./question-card"
import type { SettingsOf } from "./settings"

const kinds: Readonly<Record<QuestionKind, string>> = {
  choice: "One or several of a list",
  text: "A short text",
  number: "A number",
}

function blank(id: string, kind: QuestionKind, from?: QuizQuestion): QuizQuestion {
  const same = { id, asks: from?.asks ?? "", explains: from?.explains ?? "" }
  if (kind === "text") return { ...same, kind, answers: [""] }
  if (kind === "number") return { ...same, kind, answer: null, tolerance: 0 }
  return {
    ...same,
    kind,
    options: [
      { says: "", right: true },
      { says: "", right: false },
    ],
  }
}

export const Quiz: SettingsOf<"quiz"> = ({ block, onChange }) => {
  const put = (questions: QuizQuestion[], run: string) => onChange({ questions }, run)
  const set = (i: number, q: QuizQuestion, run: string) => put(block.questions.with(i, q), `${q.id}:${run}`)
  return (
    <div className="space-y-3">
      {block.questions.map((q, i) => (
        <QuestionCard
          key={q.id}
          n={i + 1}
          asks={q.asks}
          kind={q.kind}
          kinds={kinds}
          onAsks={(asks) => set(i, { ...q, asks }, "asks")}
          onKind={(kind) => set(i, blank(q.id, kind, q), "")}
          onRemove={() => put(block.questions.toSpliced(i, 1), "")}
        >
          <Answer q={q} set={(next, run) => set(i, next, run)} />
          <TextField
            label="Explanation, after it is answered"
            value={q.explains}
            maxLength={600}
            onChange={(e) => set(i, { ...q, explains: e.target.value }, "explains")}
          />
          {questionGap(q) === "no-right-answer" ? (
            <p className="text-label font-semibold text-amber-text">It has no right answer: it isn’t asked.</p>
          ) : null}
        </QuestionCard>
      ))}
      <Button onClick={() => put([...block.questions, blank(freeQuestion(block.questions), "choice")], "")}>
        Add a question
      </Button>
      <div className="grid grid-cols-2 gap-3 border-t border-line pt-3">
        <TextField
          label="Passed with, %"
          type="number"
          min={0}
          max={100}
          value={block.passMark}
          onChange={(e) => onChange({ passMark: whole(e.target.valueAsNumber, 100) }, "passMark")}
        />
        <TextField
          label="Tries (0: any)"
          type="number"
          min={0}
          max={99}
          value={block.tries}
          onChange={(e) => onChange({ tries: whole(e.target.valueAsNumber, 99) }, "tries")}
        />
      </div>
      <Check checked={block.shuffle} onChange={(shuffle) => onChange({ shuffle }, "shuffle")}>
        In another order each time
      </Check>
    </div>
  )
}

const whole = (n: number, most: number) => Math.min(most, Math.max(0, Math.round(n || 0)))

function Answer({ q, set }: { q: QuizQuestion; set: (q: QuizQuestion, run: string) => void }) {
  if (q.kind === "number")
    return (
      <div className="grid grid-cols-2 gap-2">
        <TextField
          label="Right is"
          type="number"
          step="any"
          value={q.answer ?? ""}
          onChange={(e) => set({ ...q, answer: e.target.value === "" ? null : e.target.valueAsNumber }, "answer")}
        />
        <TextField
          label="Give or take"
          type="number"
          step="any"
          min={0}
          value={q.tolerance}
          onChange={(e) => set({ ...q, tolerance: Math.max(0, e.target.valueAsNumber || 0) }, "tolerance")}
        />
      </div>
    )
  if (q.kind === "text")
    return (
      <TextArea
        label="Right answers, one a line"
        hint="However they are written in capitals, spaces and accents."
        rows={2}
        value={q.answers.join("\n")}
        onChange={(e) => set({ ...q, answers: e.target.value.split("\n").slice(0, 20) }, "answers")}
      />
    )
  return (
    <fieldset className="space-y-1">
      <legend className="mb-1 text-label font-semibold">Tick what is right</legend>
      {q.options.map((o, i) => (
        <div key={`${q.id}-${i}`} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-slate"
            aria-label={`Option ${i + 1} is right`}
            checked={o.right}
            onChange={(e) => set({ ...q, options: q.options.with(i, { ...o, right: e.target.checked }) }, "")}
          />
          <input
            aria-label={`Option ${i + 1}`}
            value={o.says}
            maxLength={600}
            className="min-h-8 min-w-0 flex-1 rounded border border-line bg-card px-2"
            onChange={(e) => set({ ...q, options: q.options.with(i, { ...o, says: e.target.value }) }, `o${i}`)}
          />
          <button
            type="button"
            aria-label={`Remove option ${i + 1}`}
            className="min-h-6 min-w-6 text-soft hover:text-dusk"
            onClick={() => set({ ...q, options: q.options.toSpliced(i, 1) }, "")}
          >
            ×
          </button>
        </div>
      ))}
      {q.options.length < 12 ? (
        <button
          type="button"
          className="min-h-6 text-label text-slate hover:underline"
          onClick={() => set({ ...q, options: [...q.options, { says: "", right: false }] }, "")}
        >
          Add an option
        </button>
      ) : null}
    </fieldset>
  )
}
