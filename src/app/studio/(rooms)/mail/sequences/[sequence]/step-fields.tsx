"use client"

import type { ReactNode } from "react"
import type { From } from "@/core/mail/from"
import { everybody } from "@/core/person/segment/segment"
import type { SequenceLetter } from "@/core/sequence/document"
import type { EffectChoice } from "@/core/sequence/effect/kind"
import { type EffectKind, effectKinds, refsOfDeed } from "@/core/sequence/effect/list"
import { type SequenceStep, type SequenceStepKind, sequenceStepKinds } from "@/core/sequence/step/list"
import { spanWords } from "@/core/sequence/words"
// The fields of each kind of step, and how one begins.
import type { MailStands } from "@/server/sequence/edit"
import { Check } from "@/ui/check"
import { option, SelectField, TextField } from "@/ui/field"
import { AgainField } from "../../../add-effect"
import { SegmentEditor } from "../../../segment-editor/segment-editor"
import { MailEditor } from "./mail-editor"
import type { RoomChoices } from "./sequence-editor"
import { SpanField, WaitFields } from "./wait-fields"

type Of<K extends SequenceStepKind> = Extract<SequenceStep, { kind: K }>
type Fields<K extends SequenceStepKind> = (p: {
  step: Of<K>
  choices: RoomChoices
  letter: SequenceLetter | undefined
  /** Whom the sequence comes from. */
  from: From
  stands: MailStands
  first: boolean
  set: (change: Partial<Of<K>>) => void
}) => ReactNode

const day = 1440

const fields: { readonly [K in SequenceStepKind]: Fields<K> } = {
  send: ({ letter, stands, from, choices }) =>
    letter ? (
      <MailEditor mail={letter} stands={stands} from={from} choices={choices} />
    ) : (
      <p className="text-soft">Its e-mail is being made.</p>
    ),
  wait: ({ step, choices, set, first }) => (
    <WaitFields wait={step.wait} choices={choices} first={first} onChange={(wait) => set({ wait })} />
  ),
  "wait-until": ({ step, choices, set }) => (
    <>
      <SegmentEditor
        legend="Wait until"
        value={step.question}
        choices={choices.segment}
        onChange={(question) => set({ question })}
      />
      <SpanField label="At most" minutes={step.most} onChange={(most) => set({ most })} />
      <p className="text-soft">
        Whoever it is true of goes on at once; everybody else when it comes true, or after {spanWords(step.most)}.
      </p>
    </>
  ),
  split: ({ step, choices, set }) => (
    <>
      <SegmentEditor
        legend="Ask whether"
        value={step.question}
        choices={choices.segment}
        onChange={(question) => set({ question })}
      />
      <p className="text-soft">It is asked when they come here. Both ways meet again below, unless one of them ends.</p>
    </>
  ),
  effect: ({ step, choices, set }) => (
    <EffectFields effect={step.effect} choices={choices} onChange={(effect) => set({ effect })} />
  ),
  tell: ({ step, choices, set }) => (
    <>
      <fieldset className="space-y-1">
        <legend className="mb-1 text-label font-semibold">Whom</legend>
        {choices.accounts.map((a) => (
          <Check
            key={a.id}
            checked={step.accounts.includes(a.id)}
            onChange={(is) =>
              set({ accounts: is ? [...step.accounts, a.id] : step.accounts.filter((x) => x !== a.id) })
            }
          >
            {a.name}
          </Check>
        ))}
      </fieldset>
      <TextField
        label="What to say (optional)"
        maxLength={300}
        value={step.says}
        onChange={(e) => set({ says: e.target.value })}
      />
    </>
  ),
  end: () => <p className="text-soft">Nothing comes after it, for whoever gets here.</p>,
}

export function StepFields({
  step,
  onChange,
  ...rest
}: {
  step: SequenceStep
  letter: SequenceLetter | undefined
  from: From
  stands: MailStands
  first: boolean
  choices: RoomChoices
  onChange: (step: SequenceStep) => void
}) {
  const One = fields[step.kind] as Fields<SequenceStepKind>
  return (
    <div className="space-y-4">
      <h2>{sequenceStepKinds[step.kind].label}</h2>
      <One step={step} {...rest} set={(change) => onChange({ ...step, ...change } as SequenceStep)} />
    </div>
  )
}

/** What can be done for a person, and about what. */
function EffectFields({
  effect,
  choices,
  onChange,
}: {
  effect: Of<"effect">["effect"]
  choices: RoomChoices
  onChange: (effect: Of<"effect">["effect"]) => void
}) {
  const { chooses } = effectKinds[effect.kind]
  const list = chosenFrom(effect.kind, choices)
  const about = refsOfDeed(effect)[0]?.id ?? 0
  return (
    <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
      <SelectField
        label="Effect"
        value={effect.kind}
        onChange={(e) => {
          const kind = e.target.value as EffectKind
          const first = chosenFrom(kind, choices)[0]
          if (first) onChange({ kind, settings: effectKinds[kind].of(first.id) })
        }}
      >
        {(Object.keys(effectKinds) as EffectKind[])
          .filter((kind) => kind === effect.kind || chosenFrom(kind, choices).length)
          .map((kind) => option(kind, effectKinds[kind].label))}
      </SelectField>
      <SelectField
        label={named[chooses ?? "tag"]}
        value={about}
        onChange={(e) => onChange({ kind: effect.kind, settings: effectKinds[effect.kind].of(Number(e.target.value)) })}
      >
        {list.some((x) => x.id === about) ? null : <option value={about}>No longer there</option>}
        {list.map((x) => option(x.id, x.name))}
      </SelectField>
      <AgainField
        kind={effect.kind}
        value={(effect.settings as { again?: "no" }).again ?? "no"}
        onChange={(again) =>
          onChange({ kind: effect.kind, settings: effectKinds[effect.kind].again!.set(effect.settings, again) })
        }
      />
    </div>
  )
}

const named: Readonly<Record<NonNullable<EffectChoice>, string>> = {
  tag: "Tag",
  course: "Course",
  sequence: "Sequence",
  offer: "Offer",
}

function chosenFrom(kind: EffectKind, { segment, programmes, sequences }: RoomChoices) {
  const of = { tag: segment.tags, course: segment.courses, offer: programmes, sequence: sequences }
  const { chooses } = effectKinds[kind]
  return chooses ? of[chooses] : []
}

const begin: {
  readonly [K in SequenceStepKind]: (choices: RoomChoices, mail: () => Promise<number | null>) => Promise<object | null>
} = {
  send: async (_, mail) => {
    const id = await mail()
    return id === null ? null : { mail: id }
  },
  wait: async () => ({ wait: { for: "days", days: 1, at: 450 } }),
  "wait-until": async () => ({ question: everybody, most: 7 * day }),
  split: async () => ({ question: everybody, yes: [], no: [] }),
  effect: async (choices) => {
    const kind = (Object.keys(effectKinds) as EffectKind[]).find((k) => chosenFrom(k, choices).length)
    const about = kind && chosenFrom(kind, choices)[0]
    return kind && about ? { effect: { kind, settings: effectKinds[kind].of(about.id) } } : null
  },
  tell: async (choices) => ({ accounts: choices.accounts.slice(0, 1).map((a) => a.id), says: "" }),
  end: async () => ({}),
}

/** A step as it begins; null where there is nothing yet that it could be about. `mail` makes the e-mail of one that sends. */
export async function freshStep(
  kind: SequenceStepKind,
  id: number,
  choices: RoomChoices,
  mail: () => Promise<number | null>,
): Promise<SequenceStep | null> {
  const rest = await begin[kind](choices, mail)
  return rest && ({ id, kind, ...rest } as SequenceStep)
}
