"use client"

// The fields of each kind of condition, and how one begins.
import type { ReactNode } from "react"
import { currencies, digitsOf } from "@/core/offer/money"
import { type Field, type FieldKind, isChosen } from "@/core/person/field"
import type { Comparison } from "@/core/person/segment/field"
import { type PlanState, planStates, type WayToPay, waysToPay } from "@/core/person/segment/kind"
import type { Condition, ConditionKind } from "@/core/person/segment/list"
import type { NamedThing, SegmentChoices, SurveyAsked } from "@/server/person/segment-view"
import { option, SelectField, TextField } from "@/ui/field"
import { Days, Is, OneOf, Percent, Which } from "./controls"

type Of<K extends ConditionKind> = Extract<Condition, { kind: K }>
type Fields<K extends ConditionKind> = (p: {
  c: Of<K>
  choices: SegmentChoices
  set: (change: Partial<Of<K>>) => void
}) => ReactNode

const planWords: Readonly<Record<PlanState, string>> = {
  running: "runs",
  behind: "is behind: the card was refused",
  ended: "has ended before its time",
  finished: "is paid to the end",
}

const wayWords: Readonly<Record<WayToPay, string>> = {
  once: "at once",
  instalments: "in instalments",
  subscription: "by subscription",
}

const freshSurveyCondition = (x: SurveyAsked) => ({
  lesson: x.lesson,
  block: x.block,
  question: x.question,
  answer: x.answers[0]?.n ?? null,
  asks: x.asks,
  says: x.answers[0]?.says ?? "",
})

const howWords: Readonly<Record<Comparison, string>> = {
  is: "exactly",
  contains: "something that contains",
  from: "this or more",
  to: "this or less",
  before: "a day before",
  after: "a day after",
  known: "anything",
}

const howsOf: Readonly<Record<FieldKind, readonly Comparison[]>> = {
  text: ["is", "contains", "known"],
  number: ["is", "from", "to", "known"],
  date: ["is", "before", "after", "known"],
  choice: ["is", "known"],
  "yes-no": ["is", "known"],
}

const freshFieldCondition = (f: Field) => ({
  field: f.id,
  how: isChosen(f) ? ("is" as const) : ("known" as const),
  value: f.choices[0] ? String(f.choices[0].id) : "",
  choice: isChosen(f),
})

const fields: { readonly [K in ConditionKind]: Fields<K> } = {
  "signed-in": ({ c, set }) => (
    <Is is={c.is} yes="are signed in" no="are not signed in" onChange={(is) => set({ is })} />
  ),
  segment: ({ c, choices, set }) => (
    <>
      <Is is={c.is} yes="are in the segment" no="are not in the segment" onChange={(is) => set({ is })} />
      <Which
        label="Segment"
        all={choices.segments}
        value={c.segment}
        onChange={(segment) => set({ segment: segment ?? c.segment })}
      />
    </>
  ),
  tag: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="have the tag" no="don’t have the tag" onChange={(has) => set({ has })} />
      <Which label="Tag" all={choices.tags} value={c.tag} onChange={(tag) => set({ tag: tag ?? c.tag })} />
    </>
  ),
  joined: ({ c, set }) => (
    <>
      <Is is={c.within} yes="joined in the last" no="joined more than" onChange={(within) => set({ within })} />
      <Days label={c.within ? "Days" : "Days ago"} value={c.days} onChange={(days) => set({ days: days ?? 1 })} />
    </>
  ),
  source: ({ c, choices, set }) => (
    <>
      <Is is={c.is} yes="came from" no="didn’t come from" onChange={(is) => set({ is })} />
      <OneOf label="Source" all={choices.sources} value={c.source} onChange={(source) => set({ source })} />
    </>
  ),
  course: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="are in" no="are not in" onChange={(has) => set({ has })} />
      <Which
        label="Course"
        all={choices.courses}
        value={c.course}
        onChange={(course) => set({ course: course ?? c.course })}
      />
    </>
  ),
  waits: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="wait" no="don’t wait" onChange={(has) => set({ has })} />
      <Which
        label="For the course"
        all={choices.courses}
        value={c.course}
        onChange={(course) => set({ course: course ?? c.course })}
      />
    </>
  ),
  progress: ({ c, choices, set }) => (
    <>
      <Which
        label="They have done of"
        all={choices.courses}
        value={c.course}
        onChange={(course) => set({ course: course ?? c.course })}
      />
      <Percent label="From, %" value={c.from} onChange={(from) => set({ from })} />
      <Percent label="To, %" value={c.to} onChange={(to) => set({ to })} />
    </>
  ),
  lesson: ({ c, choices, set }) => (
    <>
      <div className="w-56">
        <SelectField
          label="They"
          value={`${c.opened ? "opened" : "done"}${c.has ? "" : "-not"}`}
          onChange={(e) =>
            set({ has: !e.target.value.endsWith("-not"), opened: e.target.value.startsWith("opened") || undefined })
          }
        >
          <option value="done">have done</option>
          <option value="done-not">have not done</option>
          <option value="opened">have opened</option>
          <option value="opened-not">have not opened</option>
        </SelectField>
      </div>
      <Which
        label="Lesson"
        all={choices.lessons}
        value={c.lesson}
        onChange={(lesson) => set({ lesson: lesson ?? c.lesson })}
      />
    </>
  ),
  bought: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="have bought" no="have not bought" onChange={(has) => set({ has })} />
      <Which label="Offer" all={choices.offers} value={c.offer} none="Anything" onChange={(offer) => set({ offer })} />
      <div className="min-w-36 flex-1">
        <SelectField
          label="Paid"
          value={c.how ?? ""}
          onChange={(e) => set({ how: (e.target.value || undefined) as typeof c.how })}
        >
          <option value="">in any way</option>
          {waysToPay.map((way) => option(way, wayWords[way]))}
        </SelectField>
      </div>
      {choices.coupons.length ? (
        <div className="min-w-36 flex-1">
          <SelectField
            label="With the coupon"
            value={c.coupon ?? ""}
            onChange={(e) => set({ coupon: e.target.value || undefined })}
          >
            <option value="">any or none</option>
            {choices.coupons.map((k) => (
              <option key={k.id} value={k.name}>
                {k.name}
              </option>
            ))}
          </SelectField>
        </div>
      ) : null}
      <Days label="In the last days" value={c.days} ever onChange={(days) => set({ days })} />
    </>
  ),
  spent: ({ c, set }) => (
    <>
      <Is is={c.has} yes="have paid" no="have not paid" onChange={(has) => set({ has })} />
      <div className="min-w-36 flex-1">
        <TextField
          label={`${c.currency}, or more`}
          type="number"
          min={0}
          step="any"
          value={c.least / 10 ** digitsOf(c.currency)}
          onChange={(e) => {
            const least = Math.round(e.target.valueAsNumber * 10 ** digitsOf(c.currency))
            if (least >= 1) set({ least })
          }}
        />
      </div>
      <OneOf label="Currency" all={currencies} value={c.currency} onChange={(x) => set({ currency: x as "EUR" })} />
      <Days label="In the last days" value={c.days} ever onChange={(days) => set({ days })} />
    </>
  ),
  survey: ({ c, choices, set }) => {
    const key = (x: { lesson: number; block: string; question: string }) => `${x.lesson} ${x.block} ${x.question}`
    const asked = choices.surveys.find((x) => key(x) === key(c))
    return (
      <>
        <Is is={c.has} yes="answered" no="didn’t answer" onChange={(has) => set({ has })} />
        <div className="min-w-40 flex-1">
          <SelectField
            label="Question"
            value={key(c)}
            onChange={(e) => {
              const chosen = choices.surveys.find((x) => key(x) === e.target.value)
              if (chosen) set(freshSurveyCondition(chosen))
            }}
          >
            {asked ? null : <option value={key(c)}>{c.asks}</option>}
            {choices.surveys.map((x) => option(key(x), x.asks))}
          </SelectField>
        </div>
        <div className="min-w-40 flex-1">
          <SelectField
            label="With"
            value={c.answer ?? ""}
            onChange={(e) => {
              const answer = e.target.value === "" ? null : Number(e.target.value)
              set({ answer, says: asked?.answers.find((a) => a.n === answer)?.says ?? "" })
            }}
          >
            <option value="">anything</option>
            {(asked?.answers ?? (c.answer === null ? [] : [{ n: c.answer, says: c.says }])).map((a) =>
              option(a.n, a.says),
            )}
          </SelectField>
        </div>
      </>
    )
  },
  visited: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="have visited" no="have not visited" onChange={(has) => set({ has })} />
      <Which label="Page" all={choices.pages} value={c.step} onChange={(step) => set({ step: step ?? c.step })} />
      <Days label="In the last days" value={c.days} ever onChange={(days) => set({ days })} />
    </>
  ),
  got: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="have got an e-mail" no="have got no e-mail" onChange={(has) => set({ has })} />
      <OfSequence c={c} choices={choices} set={set} />
    </>
  ),
  "joined-between": ({ c, set }) => (
    <>
      {(["from", "to"] as const).map((end) => (
        <div key={end} className="w-40">
          <TextField
            label={end === "from" ? "Joined from" : "To"}
            type="date"
            value={c[end] ?? ""}
            onChange={(e) => set({ [end]: e.target.value || null })}
          />
        </div>
      ))}
    </>
  ),
  plan: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="have a plan" no="have no plan" onChange={(has) => set({ has })} />
      <Which label="For" all={choices.offers} value={c.offer} none="Anything" onChange={(offer) => set({ offer })} />
      <div className="min-w-40 flex-1">
        <SelectField label="That" value={c.state} onChange={(e) => set({ state: e.target.value as PlanState })}>
          {planStates.map((s) => option(s, planWords[s]))}
        </SelectField>
      </div>
    </>
  ),
  here: ({ c, set }) => (
    <>
      <Is is={c.has} yes="looked at a lesson" no="looked at no lesson" onChange={(has) => set({ has })} />
      <Days label="In the last days" value={c.days} onChange={(days) => set({ days: days ?? 1 })} />
    </>
  ),
  opened: ({ c, choices, set }) => (
    <>
      <Is is={c.has} yes="have opened an e-mail" no="have opened no e-mail" onChange={(has) => set({ has })} />
      <OfSequence c={c} choices={choices} set={set} />
    </>
  ),
  field: ({ c, choices, set }) => {
    const field = choices.fields.find((f) => f.id === c.field)
    const hows = field ? howsOf[field.kind] : ([c.how] as const)
    return (
      <>
        <Is is={c.has} yes="answered" no="didn’t answer" onChange={(has) => set({ has })} />
        <Which
          label="Field"
          all={choices.fields.map((f) => ({ id: f.id, name: f.label }))}
          value={c.field}
          wide
          onChange={(id) => {
            const chosen = choices.fields.find((f) => f.id === id)
            if (chosen) set(freshFieldCondition(chosen))
          }}
        />
        <div className="min-w-40 flex-1">
          <SelectField
            label="With"
            value={c.how}
            onChange={(e) => {
              const how = e.target.value as typeof c.how
              set({ how, choice: how === "is" && field !== undefined && isChosen(field) })
            }}
          >
            {hows.map((how) => option(how, howWords[how]))}
          </SelectField>
        </div>
        {c.how === "known" ? null : c.choice ? (
          <Which
            label="Answer"
            all={(field?.choices ?? []).map((x) => ({ id: x.id, name: x.says }))}
            value={Number(c.value)}
            onChange={(id) => set({ value: String(id ?? c.value) })}
          />
        ) : (
          <div className="min-w-32 flex-1">
            <TextField
              label="Answer"
              type={field?.kind === "date" ? "date" : "text"}
              inputMode={field?.kind === "number" ? "decimal" : undefined}
              value={c.value}
              maxLength={200}
              onChange={(e) => set({ value: e.target.value })}
            />
          </div>
        )}
      </>
    )
  },
  zone: ({ c, choices, set }) => (
    <>
      <Is is={c.is} yes="live in" no="don’t live in" onChange={(is) => set({ is })} />
      <OneOf label="Time zone" all={choices.zones} value={c.zone} onChange={(zone) => set({ zone })} />
    </>
  ),
  clicked: ({ c, set }) => (
    <>
      <Is
        is={c.has}
        yes="followed a link in an e-mail"
        no="followed no link in an e-mail"
        onChange={(has) => set({ has })}
      />
      <Days label="In the last days" value={c.days} onChange={(days) => set({ days: days ?? 1 })} />
    </>
  ),
  affiliate: ({ c, set }) => (
    <Is is={c.is} yes="are affiliates" no="aren’t affiliates" onChange={(is) => set({ is })} />
  ),
  receives: ({ c, set }) => (
    <Is is={c.is} yes="get e-mails" no="get no e-mails: left, or not reached" onChange={(is) => set({ is })} />
  ),
}

export function ConditionFields({
  c,
  choices,
  onChange,
}: {
  c: Condition
  choices: SegmentChoices
  onChange: (c: Condition) => void
}) {
  const Of = fields[c.kind] as Fields<ConditionKind>
  return <Of c={c} choices={choices} set={(change) => onChange({ ...c, ...change } as Condition)} />
}

/** A new condition, about the first of what there is; null where there is none of it. */
export function freshCondition(kind: ConditionKind, choices: SegmentChoices): Condition | null {
  const first = (all: readonly NamedThing[]) => all[0]?.id
  const [tag, course, lesson] = [first(choices.tags), first(choices.courses), first(choices.lessons)]
  const begins: Record<ConditionKind, Condition | null> = {
    "signed-in": { kind: "signed-in", is: true },
    segment: choices.segments[0] ? { kind: "segment", segment: choices.segments[0].id, is: true } : null,
    tag: tag ? { kind: "tag", tag, has: true } : null,
    joined: { kind: "joined", within: true, days: 30 },
    source: choices.sources[0] ? { kind: "source", source: choices.sources[0], is: true } : null,
    course: course ? { kind: "course", course, has: true } : null,
    waits: course ? { kind: "waits", course, has: true } : null,
    progress: course ? { kind: "progress", course, from: 0, to: 100 } : null,
    lesson: lesson ? { kind: "lesson", lesson, has: true } : null,
    bought: { kind: "bought", offer: null, has: false, days: null },
    spent: {
      kind: "spent",
      least: 10_000,
      currency: choices.currency as "EUR",
      has: true,
      days: null,
    },
    survey: choices.surveys[0] ? { kind: "survey", has: true, ...freshSurveyCondition(choices.surveys[0]) } : null,
    visited: choices.pages[0] ? { kind: "visited", step: choices.pages[0].id, has: true, days: null } : null,
    got: { kind: "got", sequence: null, has: true, days: 30 },
    "joined-between": { kind: "joined-between", from: null, to: null, zone: choices.zone },
    plan: { kind: "plan", offer: null, state: "running", has: true },
    here: { kind: "here", has: false, days: 30 },
    clicked: { kind: "clicked", has: true, days: 30 },
    opened: { kind: "opened", sequence: null, has: true, days: 30 },
    field: choices.fields[0] ? { kind: "field", has: true, ...freshFieldCondition(choices.fields[0]) } : null,
    receives: { kind: "receives", is: true },
    affiliate: { kind: "affiliate", is: true },
    zone: choices.zones[0] ? { kind: "zone", zone: choices.zones[0], is: true } : null,
  }
  return begins[kind]
}

/** Whose e-mails, and since when. */
function OfSequence({
  c,
  choices,
  set,
}: {
  c: Pick<Of<"got">, "sequence" | "days">
  choices: SegmentChoices
  set: (change: Partial<Pick<Of<"got">, "sequence" | "days">>) => void
}) {
  return (
    <>
      <Which
        label="Of"
        all={choices.sequences}
        value={c.sequence}
        none="Any"
        onChange={(sequence) => set({ sequence })}
      />
      <Days label="In the last days" value={c.days} ever onChange={(days) => set({ days })} />
    </>
  )
}
