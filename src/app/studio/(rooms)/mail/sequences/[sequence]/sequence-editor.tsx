"use client"

import { useRouter } from "next/navigation"
import { useCallback, useRef, useState } from "react"
import type { Segment } from "@/core/person/segment/segment"
import { emptyLetter, type SequenceLetter } from "@/core/sequence/document"
import * as edit from "@/core/sequence/flow"
import { mailOf, type SequenceStep, type SequenceStepKind } from "@/core/sequence/step/list"
import { locale } from "@/core/words/locale"
import type { SegmentChoices } from "@/server/person/segment-view"
import type { MailStands } from "@/server/sequence/edit"
import type { GoalMet } from "@/server/sequence/goal"
import type { EditorChoices, MailNumbers } from "@/server/sequence/sequence-view"
import type { SequenceDraft } from "@/server/sequence/store"
import { Check } from "@/ui/check"
import { Clash } from "@/ui/clash"
import { option, SelectField, TextField } from "@/ui/field"
import { useAsked } from "@/ui/use-asked"
import { saveWords } from "@/ui/use-saved"
import { useShared } from "@/ui/use-shared"
import { SegmentEditor } from "../../../segment-editor/segment-editor"
import { counted } from "../../../words"
import { FromFields } from "../../from-fields"
import { ReachedForm } from "../../reached-form"
import { addLetterAction, goalMetAction, reachedAction, saveSequenceAction } from "../actions"
import { BeginByHand, type PlannedShown } from "./begin-by-hand"
import { Column } from "./column"
import { PlacePeople } from "./place-people"
import { StateBar } from "./state-bar"
import { freshStep, StepFields } from "./step-fields"

export type RoomChoices = EditorChoices & { readonly segment: SegmentChoices }

const goesWords = {
  asked: "Ignored: readers asked for these e-mails",
  first: "Respected, and sent before other e-mails",
  usual: "Respected",
  last: "Respected, and sent after other e-mails",
} as const

type Past = { readonly before: readonly edit.Steps[]; readonly after: readonly edit.Steps[] }

/** What a goal begins with: it is what most sequences are written for. */
const haveBought: Segment = { match: "all", parts: [{ kind: "bought", offer: null, has: true, days: null }] }

/** A sequence being worked on: its steps in a column, and beside them the one that is chosen. */
export function SequenceEditor({
  sequence,
  changed,
  says,
  places,
  stand,
  numbers,
  choices,
  others,
  planned,
}: {
  sequence: SequenceDraft
  changed: boolean
  /** Each step in words, by its number. */
  says: Readonly<Record<number, string>>
  /** How many people stand at each step. */
  places: Readonly<Record<number, number>>
  stand: Readonly<Record<number, MailStands>>
  /** What came of each e-mail so far, by its number. */
  numbers: Readonly<Record<number, MailNumbers>>
  choices: RoomChoices
  others: readonly { readonly id: number; readonly name: string }[]
  planned: readonly PlannedShown[]
}) {
  const router = useRouter()
  const { id } = sequence
  const { value, set, saved, clash } = useShared(
    {
      revision: sequence.revision,
      value: {
        name: sequence.name,
        leaveLine: sequence.leaveLine,
        from: sequence.from,
        flow: sequence.flow,
        goes: sequence.goes,
      },
    },
    async (next, before) => {
      const answer = await saveSequenceAction(id, next, before)
      if ("value" in answer) router.refresh()
      return answer
    },
  )
  const { steps, goal } = value.flow
  const [chosen, choose] = useState<number | null>(steps[0]?.id ?? null)
  const [past, setPast] = useState<Past>({ before: [], after: [] })
  const now = useRef(steps)
  now.current = steps
  const put = useCallback((next: edit.Steps) => set((v) => ({ ...v, flow: { ...v.flow, steps: next } })), [set])
  /** A change of the steps that can be taken back. */
  const act = useCallback(
    (next: edit.Steps | null) => {
      if (!next || next === now.current) return
      const before = now.current
      setPast((p) => ({ before: [...p.before.slice(-99), before], after: [] }))
      put(next)
    },
    [put],
  )
  const undo = (way: "before" | "after") => {
    const to = past[way].at(-1)
    if (!to) return
    const { before, after } = past
    setPast(
      way === "before"
        ? { before: before.slice(0, -1), after: [...after, steps] }
        : { before: [...before, steps], after: after.slice(0, -1) },
    )
    put(to)
  }
  /** E-mails that were written since the page was made. */
  const [made, setMade] = useState<readonly SequenceLetter[]>([])
  const letters = [...sequence.mails, ...made.filter((m) => !sequence.mails.some((x) => x.id === m.id))]

  async function add(spot: edit.Spot, kind: SequenceStepKind) {
    const step = await freshStep(kind, edit.freshId(now.current), choices, async () => {
      const letter = await addLetterAction(id, null)
      if ("refused" in letter) return null
      setMade((m) => [...m, { id: letter.id, ...emptyLetter }])
      return letter.id
    })
    if (!step) return
    act(edit.insertFlowStep(now.current, spot, step))
    choose(step.id)
  }

  async function duplicate(step: SequenceStep) {
    const copies = new Map<number, number>()
    for (const x of edit.allSteps([step])) {
      const mail = mailOf(x)
      if (mail === null) continue
      const letter = await addLetterAction(id, mail)
      if ("refused" in letter) return
      copies.set(mail, letter.id)
      const like = letters.find((m) => m.id === mail)
      if (like) setMade((m) => [...m, { ...like, id: letter.id }])
    }
    const copy = edit.copyOf(step, edit.freshId(now.current), (m) => copies.get(m) ?? m)
    act(edit.insertFlowStep(now.current, { after: step.id }, copy))
    choose(copy.id)
  }

  function remove(step: number) {
    const all = edit.allSteps(now.current)
    const at = all.findIndex((s) => s.id === step)
    choose(all[at + 1]?.id ?? all[at - 1]?.id ?? null)
    act(edit.removeFlowStep(now.current, step))
  }

  const step = edit.allSteps(steps).find((s) => s.id === chosen)
  const change = (next: SequenceStep) => put(edit.changeFlowStep(now.current, next.id, () => next))
  return (
    <>
      <div className="mt-1 flex items-center justify-between gap-4">
        <h1 className="truncate">{value.name}</h1>
        <span
          role="status"
          className={`text-note whitespace-nowrap ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {saveWords(saved)}
        </span>
      </div>
      <StateBar sequence={sequence} changed={changed} />
      <Clash
        clash={clash}
        labels={{
          name: "Name",
          leaveLine: "Unsubscribe link text",
          from: "From and replies",
          flow: "The steps",
          goes: "Quiet hours and limits",
        }}
      />
      <div className="mt-4 grid grid-cols-1 gap-6 lg:grid-cols-[minmax(0,23rem)_minmax(0,1fr)]">
        <Column
          steps={steps}
          letters={letters}
          says={says}
          places={places}
          chosen={chosen}
          onChoose={choose}
          onAdd={add}
          onMove={(which, spot) => act(edit.moveFlowStep(now.current, which, spot))}
          onDuplicate={duplicate}
          onRemove={remove}
          onUndo={undo}
        />
        <section aria-label="The step" className="min-w-0">
          {step ? (
            <>
              <StepFields
                key={step.id}
                step={step}
                letter={letters.find((m) => m.id === mailOf(step))}
                stands={stand[mailOf(step) ?? 0] ?? { revision: 1, isPage: false }}
                from={value.from}
                first={edit.allSteps(steps)[0] === step}
                choices={choices}
                onChange={change}
              />
              {numbers[mailOf(step) ?? 0] ? <Numbers of={numbers[mailOf(step) ?? 0]!} /> : null}
              {mailOf(step) === null || sequence.version === null ? null : (
                <ReachedForm key={`reached ${step.id}`} look={(email) => reachedAction(mailOf(step)!, email)} />
              )}
              <PlacePeople
                key={`people ${step.id}`}
                sequence={id}
                step={step.id}
                people={places[step.id] ?? 0}
                steps={edit.allSteps(sequence.flow.steps).map((s) => ({ id: s.id, name: says[s.id] ?? "" }))}
                others={others}
              />
            </>
          ) : (
            <p className="text-soft">Nothing is in it yet. Most begin with an e-mail: “Add a step”, then “Send”.</p>
          )}
        </section>
      </div>
      <section aria-label="Its end" className="mt-6 border-t border-line pt-3">
        <h2>Ends at a goal</h2>
        <Check
          checked={goal !== null}
          onChange={(is) => set((v) => ({ ...v, flow: { ...v.flow, goal: is ? haveBought : null } }))}
          hint="Whoever has reached it leaves at once, wherever they are, and it doesn’t begin for them."
        >
          It ends for those who have reached its goal
        </Check>
        {goal ? (
          <div className="mt-3 max-w-2xl">
            <SegmentEditor
              legend="The goal is reached when"
              value={goal}
              choices={choices.segment}
              onChange={(next: Segment) => set((v) => ({ ...v, flow: { ...v.flow, goal: next } }))}
            />
            <AtGoal goal={goal} />
            {goal.parts.length === 0 ? (
              <p className="mt-1 font-semibold text-amber-text">
                Nothing is asked yet: everybody would be at the goal, and it would begin for nobody.
              </p>
            ) : null}
          </div>
        ) : null}
      </section>
      <section
        aria-label="Name and unsubscribing"
        className="mt-6 grid grid-cols-1 gap-3 border-t border-line pt-3 sm:grid-cols-2"
      >
        <TextField
          label="Name"
          value={value.name}
          maxLength={120}
          onChange={(e) => set({ ...value, name: e.target.value })}
          error={typeof saved === "object" && saved.field === "name" ? saved.refused : undefined}
        />
        <TextField
          label="Unsubscribe link text"
          value={value.leaveLine}
          maxLength={200}
          onChange={(e) => set({ ...value, leaveLine: e.target.value })}
        />
        <FromFields
          value={value.from}
          error={(field) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)}
          onChange={(from) => set({ ...value, from })}
        />
        <SelectField
          label="Quiet hours and limits"
          value={value.goes}
          onChange={(e) => set({ ...value, goes: e.target.value as typeof value.goes })}
        >
          {Object.entries(goesWords).map(([key, says]) => option(key, says))}
        </SelectField>
      </section>
      <BeginByHand
        sequence={id}
        live={sequence.version !== null && sequence.state !== "draft"}
        planned={planned}
        choices={choices.segment}
      />
    </>
  )
}

/** How many are at the goal already: it doesn't begin for them. */
function AtGoal({ goal }: { goal: Segment }) {
  const { answer } = useAsked(goal, null as GoalMet | null, goalMetAction)
  if (!answer || goal.parts.length === 0) return null
  return (
    <p role="status" className="mt-1 text-soft tabular-nums">
      {counted(answer.met)} of {counted(answer.all)} people have reached it already.
    </p>
  )
}

/** What came of an e-mail so far. Clicks are what counts: opens are told by a picture that machines ask for, too. */
function Numbers({ of }: { of: MailNumbers }) {
  const share = (n: number) => `${((100 * n) / of.sent).toFixed(1)} %`
  return (
    <p className="mt-3 tabular-nums">
      <strong>{of.sent.toLocaleString(locale)}</strong> sent, <strong>{of.clicked.toLocaleString(locale)}</strong>{" "}
      followed a link ({share(of.clicked)}), {of.opened.toLocaleString(locale)} opened it as far as can be told (
      {share(of.opened)})
    </p>
  )
}
