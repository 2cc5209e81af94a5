"use client"
import { useState } from "react"
import { type Gate, type Gates, gateFor, type Situation, situations } from "@/core/course/gate"
import type { GateView } from "@/server/course/gates"
import { Button } from "@/ui/button"
import { option, SelectField, TextArea } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { saveCourseAction, saveLessonAction, saveSchoolGatesAction, saveSignOutAction } from "../../actions"

const who: Readonly<Record<Situation, readonly [string, string]>> = {
  stranger: ["Not signed in", "Nobody knows yet who they are."],
  outside: ["Not let in", "Signed in, without this course."],
  ended: ["Access has ended", "They had it once."],
  "not-yet": ["Not open yet", "They have it, and it opens later."],
}

/** What each kind of person meets, for the school, this course, and lessons that differ. */
export function GatesEditor({ course, gates, view }: { course: number; gates: Gates; view: GateView }) {
  const { busy, run } = useAction()
  const [lesson, setLesson] = useState(0)
  const save = (work: () => Promise<unknown>) => run(work)
  const chosen = view.lessons.find((l) => l.id === lesson)
  const put = (own: Gates, situation: Situation, gate: Gate | undefined): Gates => {
    const { [situation]: _, ...rest } = own
    return gate ? { ...rest, [situation]: gate } : rest
  }
  return (
    <div className="mt-4 max-w-4xl" aria-busy={busy}>
      <p className="text-soft">
        Whoever may not open something is led on gently. Choose where, for everybody of a kind; a lesson can differ.
      </p>
      <div className="mt-4 divide-y divide-line border-y border-line">
        {situations.map((situation) => {
          const [name, about] = who[situation]
          const levels = { course: gates, school: view.school }
          const { gate } = gateFor(situation, levels)
          const differ = view.lessons.filter((l) => l.gates[situation])
          return (
            <section
              key={situation}
              aria-label={name}
              className="grid grid-cols-1 gap-x-6 gap-y-2 py-4 sm:grid-cols-[14rem_1fr]"
            >
              <div>
                <h2 className="text-base">{name}</h2>
                <p className="text-note text-soft">{about}</p>
              </div>
              <div className="space-y-2">
                <GateField
                  label="They meet"
                  value={gates[situation]}
                  otherwise={`${view.school[situation] ? "As the school says" : "As usual"}: ${meets(gateFor(situation, { school: view.school }).gate, view)}`}
                  view={view}
                  situation={situation}
                  onChange={(g) => save(() => saveCourseAction({ course, gates: put(gates, situation, g) }))}
                />
                {trouble(gate, view) ? (
                  <p className="text-note font-semibold text-dusk">{trouble(gate, view)}</p>
                ) : null}
                {differ.length ? (
                  <p className="text-note">
                    Differs for{" "}
                    {differ.map((l) => `“${l.title}” (${meets(l.gates[situation] as Gate, view)})`).join(", ")}
                  </p>
                ) : null}
              </div>
            </section>
          )
        })}
      </div>
      <section aria-label="On leaving" className="grid grid-cols-1 gap-4 border-b border-line py-4 sm:grid-cols-2">
        <LeaveField
          label="The last lesson of this course leads to"
          none="The course, with what is done"
          value={view.lastLesson}
          view={view}
          onChange={(leaveStep) => save(() => saveCourseAction({ course, leaveStep }))}
        />
        <LeaveField
          label="Signing out leads to, in the whole school"
          none="The sign-in page"
          value={view.signOut}
          view={view}
          onChange={(step) => save(() => saveSignOutAction(step))}
        />
      </section>
      <section aria-label="For one lesson" className="mt-6">
        <div className="max-w-md">
          <SelectField label="For one lesson" value={lesson} onChange={(e) => setLesson(Number(e.target.value))}>
            <option value={0}>Choose a lesson that differs</option>
            {view.lessons.map((l) => option(l.id, l.title || "Without a title"))}
          </SelectField>
        </div>
        {chosen ? (
          <div className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-2">
            {situations.map((situation) => (
              <GateField
                key={situation}
                label={who[situation][0]}
                value={chosen.gates[situation]}
                otherwise="As the course says"
                view={view}
                situation={situation}
                onChange={(g) =>
                  save(() => saveLessonAction({ lesson: chosen.id, gates: put(chosen.gates, situation, g) }))
                }
              />
            ))}
          </div>
        ) : null}
      </section>
      <details className="mt-6 border-t border-line pt-4">
        <summary className="text-slate">For the whole school</summary>
        <div className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-2">
          {situations.map((situation) => (
            <GateField
              key={situation}
              label={who[situation][0]}
              value={view.school[situation]}
              otherwise={`As usual: ${meets(gateFor(situation, {}).gate, view)}`}
              view={view}
              situation={situation}
              onChange={(g) => save(() => saveSchoolGatesAction(put(view.school, situation, g)))}
            />
          ))}
        </div>
      </details>
    </div>
  )
}

function meets(gate: Gate, view: GateView): string {
  switch (gate.kind) {
    case "found":
      return view.page
        ? `the page that leads to it, /${view.page}`
        : "a note above the lessons, since no page leads to it"
    case "sign-in":
      return "the sign-in"
    case "step":
      return `the page “${view.steps.find((s) => s.id === gate.step)?.name ?? "that is gone"}”`
    case "words":
      return gate.words ? "your note above the lessons" : "a note above the lessons"
  }
}

/** A gate that leads nowhere, in a sentence. */
function trouble(gate: Gate, view: GateView): string | null {
  if (gate.kind !== "step") return null
  const step = view.steps.find((s) => s.id === gate.step)
  if (!step) return "The page it leads to is gone: they meet a note above the lessons instead."
  return step.live ? null : `“${step.name}” isn’t live: they meet a note above the lessons instead.`
}

function GateField({
  label,
  value,
  otherwise,
  view,
  situation,
  onChange,
}: {
  label: string
  value: Gate | undefined
  otherwise: string
  view: GateView
  situation: Situation
  onChange: (gate: Gate | undefined) => void
}) {
  const [words, setWords] = useState(value?.kind === "words" ? value.words : "")
  const begin = (kind: string) => {
    if (kind === "found" || kind === "sign-in") onChange({ kind })
    else if (kind === "step" && view.steps[0]) onChange({ kind, step: view.steps[0].id })
    else if (kind === "words") onChange({ kind, words })
    else onChange(undefined)
  }
  return (
    <div className="space-y-2">
      <SelectField label={label} value={value?.kind ?? ""} onChange={(e) => begin(e.target.value)}>
        <option value="">{otherwise}</option>
        <option value="found">The page that sells it, or gives it away</option>
        {situation === "stranger" ? <option value="sign-in">The sign-in</option> : null}
        {view.steps.length ? <option value="step">A page of a funnel</option> : null}
        <option value="words">A note above the lessons</option>
      </SelectField>
      {value?.kind === "step" ? (
        <SelectField
          label="Which page"
          value={value.step}
          onChange={(e) => onChange({ kind: "step", step: Number(e.target.value) })}
        >
          {view.steps.some((s) => s.id === value.step) ? null : <option value={value.step}>One that is gone</option>}
          {view.steps.map((s) => option(s.id, `${s.funnel}: ${s.name}${s.live ? "" : " (not live)"}`))}
        </SelectField>
      ) : null}
      {value?.kind === "words" ? (
        <div className="space-y-1.5">
          <TextArea
            label="Words"
            hint="Empty: the usual ones."
            rows={3}
            maxLength={600}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          {words === value.words ? null : (
            <Button onClick={() => onChange({ kind: "words", words })}>Keep these words</Button>
          )}
        </div>
      ) : null}
    </div>
  )
}

/** A step to which somebody goes on leaving. */
function LeaveField({
  label,
  none,
  value,
  view,
  onChange,
}: {
  label: string
  none: string
  value: number | null
  view: GateView
  onChange: (step: number | null) => void
}) {
  const dead = value !== null && !view.steps.find((x) => x.id === value)?.live
  return (
    <div>
      <SelectField label={label} value={value ?? ""} onChange={(e) => onChange(Number(e.target.value) || null)}>
        <option value="">{none}</option>
        {view.steps.map((x) => option(x.id, `${x.name}, ${x.funnel}${x.live ? "" : " (not live)"}`))}
      </SelectField>
      {dead ? (
        <p className="mt-1 text-note font-semibold text-dusk">
          That page isn’t live: until it is, they come to {none.charAt(0).toLowerCase() + none.slice(1)}.
        </p>
      ) : null}
    </div>
  )
}
