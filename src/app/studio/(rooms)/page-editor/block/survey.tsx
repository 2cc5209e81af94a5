"use client"

import type { SurveyItem, SurveyItemKind } from "@/core/course/survey"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { TextArea, TextField } from "@/ui/field"
import { freeQuestion, QuestionCard } from "./question-card"
import type { SettingsOf } from "./settings"

const kinds: Readonly<Record<SurveyItemKind, string>> = {
  choice: "One or several of a list",
  scale: "A scale",
  text: "Their own words",
}

function blank(id: string, kind: SurveyItemKind, from?: SurveyItem): SurveyItem {
  const same = { id, asks: from?.asks ?? "", required: from?.required ?? false }
  if (kind === "text") return { ...same, kind }
  if (kind === "scale") return { ...same, kind, most: 5, low: "", high: "" }
  return { ...same, kind, several: false, options: ["", ""] }
}

export const Survey: SettingsOf<"survey"> = ({ block, onChange }) => {
  const { survey } = block
  const put = (next: SurveyItem[], run: string) => onChange({ survey: next }, run)
  const set = (i: number, q: SurveyItem, run: string) => put(survey.with(i, q), `${q.id}:${run}`)
  return (
    <div className="space-y-3">
      {survey.map((q, i) => (
        <QuestionCard
          key={q.id}
          n={i + 1}
          asks={q.asks}
          kind={q.kind}
          kinds={kinds}
          onAsks={(asks) => set(i, { ...q, asks }, "asks")}
          onKind={(kind) => set(i, blank(q.id, kind, q), "")}
          onRemove={() => put(survey.toSpliced(i, 1), "")}
        >
          <Answer q={q} set={(next, run) => set(i, next, run)} />
          <Check checked={q.required} onChange={(required) => set(i, { ...q, required }, "")}>
            Must be answered
          </Check>
        </QuestionCard>
      ))}
      <Button onClick={() => put([...survey, blank(freeQuestion(survey), "choice")], "")}>Add a question</Button>
      <p className="text-label text-soft">What people answer stands in the course, under Surveys.</p>
    </div>
  )
}

function Answer({ q, set }: { q: SurveyItem; set: (q: SurveyItem, run: string) => void }) {
  if (q.kind === "text") return null
  if (q.kind === "scale")
    return (
      <div className="space-y-2">
        <TextField
          label="From 1 to"
          type="number"
          min={2}
          max={10}
          value={q.most}
          onChange={(e) =>
            set({ ...q, most: Math.min(10, Math.max(2, Math.round(e.target.valueAsNumber) || 5)) }, "most")
          }
        />
        <TextField
          label="1 means"
          maxLength={60}
          value={q.low}
          onChange={(e) => set({ ...q, low: e.target.value }, "low")}
        />
        <TextField
          label={`${q.most} means`}
          maxLength={60}
          value={q.high}
          onChange={(e) => set({ ...q, high: e.target.value }, "high")}
        />
        <Check checked={q.rates === true} onChange={(rates) => set({ ...q, rates: rates || undefined }, "")}>
          It asks what they think of the course: pages may show the average
        </Check>
      </div>
    )
  return (
    <>
      <TextArea
        label="To choose from, one a line"
        rows={3}
        value={q.options.join("\n")}
        onChange={(e) => set({ ...q, options: e.target.value.split("\n").slice(0, 20) }, "options")}
      />
      <Check checked={q.several} onChange={(several) => set({ ...q, several }, "")}>
        Several may be chosen
      </Check>
    </>
  )
}
