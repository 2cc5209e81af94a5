// A funnel as it was stored, read back: checked, and brought up to how funnels are written now. Releases and what a change
// can be taken back to are kept for years, so each version that was ever written is read.
import * as v from "valibot"
import { courseCardSchema } from "../course/card"
import { type Page, readPage } from "../page/document"
import { type EffectKind, effectKinds, readDeed } from "../sequence/effect/list"
import type { Effect, Funnel, Step, Stream } from "./draft"
import { type Outcome, outcomes, readSettings, type StepKind, stepKinds } from "./step/list"

export class FunnelError extends Error {}

const number = v.number()
const kind = v.picklist(Object.keys(stepKinds) as StepKind[])
const outcome = v.picklist(Object.keys(outcomes) as Outcome[])
const effectKind = v.picklist(Object.keys(effectKinds) as EffectKind[])

const structure = {
  steps: v.array(
    v.object({ id: number, kind, name: v.string(), path: v.string(), page: v.unknown(), settings: v.unknown() }),
  ),
  streams: v.array(v.object({ from: number, outcome, to: v.nullable(number) })),
  effects: v.array(
    v.object({ id: number, step: number, outcome, kind: effectKind, settings: v.unknown(), name: v.string() }),
  ),
}

// Changes from before kept none.
const mailsTo = v.optional(v.array(v.object({ mail: number, step: number })), [])

const funnel = v.object({
  version: v.literal(2),
  id: number,
  name: v.string(),
  // Funnels from before a journey could begin again have none.
  againAfter: v.optional(v.nullable(number), null),
  ...structure,
  sequences: v.array(
    v.object({
      id: number,
      name: v.string(),
      state: v.picklist(["draft", "live", "paused"]),
      leaveLine: v.string(),
      mails: v.array(
        v.object({
          id: number,
          afterDays: number,
          atMinute: v.nullable(number),
          subject: v.string(),
          preview: v.optional(v.string(), ""),
          plain: v.optional(v.string(), ""),
          body: v.string(),
          button: v.string(),
          lessonId: v.nullable(number),
          // Mails from before pages could be led to have none.
          stepId: v.optional(v.nullable(number), null),
        }),
      ),
    }),
  ),
  courses: v.array(courseCardSchema),
})

/** Reads a stored funnel of any version. Throws FunnelError, which names the place, where it isn't one. */
export function readFunnel(json: unknown): Funnel {
  const read = v.safeParse(funnel, upgraded(json))
  if (!read.success) throw new FunnelError(`${v.getDotPath(read.issues[0]) ?? "funnel"}: ${read.issues[0].message}`)
  return { ...read.output, ...settled(read.output) }
}

export type Structure = Pick<Funnel, "steps" | "streams" | "effects"> & {
  /** The steps that e-mails' buttons lead to: a step that comes back is led to again. */
  readonly mailsTo: readonly { readonly mail: number; readonly step: number }[]
}

/** What a change can be taken back to, as it is kept. */
export function keepStructure({ steps, streams, effects, sequences }: Funnel): unknown {
  const mailsTo = sequences.flatMap((q) =>
    q.mails.flatMap((m) => (m.stepId === null ? [] : [{ mail: m.id, step: m.stepId }])),
  )
  return { version: 2, steps, streams, effects, mailsTo }
}

export function readStructure(json: unknown): Structure {
  const read = v.safeParse(v.object({ ...structure, mailsTo }), upgraded(json))
  if (!read.success) throw new FunnelError(`${v.getDotPath(read.issues[0]) ?? "change"}: ${read.issues[0].message}`)
  return { ...settled(read.output), mailsTo: read.output.mailsTo }
}

/** Pages and settings are each checked by what they are of. */
function settled(
  f: v.InferOutput<typeof funnel> | v.InferOutput<ReturnType<typeof structureOf>>,
): Omit<Structure, "mailsTo"> {
  return {
    steps: f.steps.map(
      (s): Step => ({
        ...s,
        page: s.page === null ? null : readPage(s.page),
        settings: readSettings(s.kind, s.settings),
      }),
    ),
    streams: f.streams as Stream[],
    effects: f.effects.map((e): Effect => ({ ...e, settings: readDeed(e.kind, e.settings) })),
  }
}
const structureOf = () => v.object(structure)

function upgraded(json: unknown): unknown {
  const version = (json as { version?: unknown } | null)?.version
  if (version === 2) return json
  if (version !== undefined) throw new FunnelError(`it is of version ${JSON.stringify(version)}; up to 2 is understood`)
  return isRows(json) ? fromRows(json) : fromFirst(json as First)
}

/** The first version of a release had each setting of each kind at every step, and effects about a number. */
type First = Omit<Funnel, "version" | "steps" | "effects"> & {
  readonly steps: readonly FirstStep[]
  readonly effects: readonly (Omit<Effect, "settings"> & { readonly subject: number })[]
}
type FirstStep = Omit<Step, "settings"> & {
  readonly courseId: number | null
  readonly offerId?: number | null
  readonly termsId?: number | null
  readonly replaces?: boolean
  readonly skipAs?: "accepted" | "declined"
}

function fromFirst(f: First): unknown {
  return {
    ...f,
    version: 2,
    steps: f.steps.map(({ courseId, offerId, termsId, replaces, skipAs, ...s }) => ({
      ...s,
      settings: { course: courseId, offer: offerId ?? null, terms: termsId ?? null, replaces, skipAs },
    })),
    effects: f.effects.map(({ subject, name, ...e }) => ({ ...e, settings: effectKinds[e.kind].of(subject), name })),
  }
}

/** The first version of what a change could be taken back to was the rows of its tables. */
type Rows = {
  readonly steps: readonly {
    id: number
    kind: StepKind
    name: string
    path: string
    position: number
    course_id: number | null
    offer_id: number | null
    terms_id: number | null
    replaces: number
    skip_as: "accepted" | "declined"
    page: string | null
  }[]
  readonly streams: readonly { step_id: number; outcome: Outcome; to_step_id: number | null }[]
  readonly effects: readonly {
    id: number
    step_id: number
    outcome: Outcome
    kind: EffectKind
    tag_id: number | null
    sequence_id: number | null
    course_id: number | null
  }[]
}

const isRows = (json: unknown): json is Rows =>
  (json as { steps?: { position?: unknown }[] } | null)?.steps?.[0]?.position !== undefined

function fromRows(r: Rows): unknown {
  return {
    steps: [...r.steps]
      .sort((a, b) => a.position - b.position || a.id - b.id)
      .map((s) => ({
        id: s.id,
        kind: s.kind,
        name: s.name,
        path: s.path,
        page: s.page === null ? null : (JSON.parse(s.page) as Page),
        settings: {
          course: s.course_id,
          offer: s.offer_id,
          terms: s.terms_id,
          replaces: Boolean(s.replaces),
          skipAs: s.skip_as,
        },
      })),
    streams: r.streams.map((t) => ({ from: t.step_id, outcome: t.outcome, to: t.to_step_id })),
    effects: r.effects.map((e) => ({
      id: e.id,
      step: e.step_id,
      outcome: e.outcome,
      kind: e.kind,
      settings: effectKinds[e.kind].of(e.tag_id ?? e.sequence_id ?? e.course_id ?? 0),
      name: "",
    })),
  }
}
