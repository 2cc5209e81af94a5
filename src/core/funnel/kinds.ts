// The kinds of step, and the ways out that each has.

export const stepKinds = {
  optin: { label: "opt-in page", outcomes: ["joined"], entry: true, page: true },
  inbox: { label: "check your inbox", outcomes: ["confirmed"], entry: false, page: true },
  sales: { label: "sales page", outcomes: ["clicked"], entry: true, page: true },
  checkout: { label: "checkout", outcomes: ["bought", "stopped"], entry: true, page: true },
  further: { label: "further offer", outcomes: ["accepted", "declined"], entry: false, page: true },
  welcome: { label: "welcome page", outcomes: ["started"], entry: false, page: true },
  learning: { label: "learning area", outcomes: [], entry: false, page: false },
} as const satisfies Record<string, StepKindFacts>

type StepKindFacts = { label: string; outcomes: readonly string[]; entry: boolean; page: boolean }

export type StepKind = keyof typeof stepKinds

/** In words: what someone did who went out this way, and what those who did are called. */
export const outcomes = {
  joined: { verb: "joins", done: "joined" },
  confirmed: { verb: "confirms", done: "confirmed" },
  started: { verb: "opens the first lesson", done: "started" },
  clicked: { verb: "goes to the checkout", done: "clicked on" },
  bought: { verb: "buys", done: "bought" },
  stopped: { verb: "begins to pay and stops", done: "stopped" },
  accepted: { verb: "accepts", done: "accepted" },
  declined: { verb: "declines", done: "declined" },
} as const

export type Outcome = keyof typeof outcomes

/** Outcomes of somebody who is no longer there: they set things off, and lead nowhere. */
export const leadsNowhere: readonly Outcome[] = ["stopped"]

export function outcomesOf(kind: StepKind): readonly Outcome[] {
  return stepKinds[kind].outcomes
}

export const effectKinds = {
  "begin-sequence": "begin a sequence",
  "end-sequence": "end a sequence",
  "open-course": "open a course",
  "tag-on": "put a tag on",
  "tag-off": "take a tag off",
} as const

export type EffectKind = keyof typeof effectKinds
