// A plan as it is kept with what was agreed to, for as long as it runs and long after: written with its version, and read
// back of any version that was ever written, checked.
import * as v from "valibot"
import type { Plan } from "./plan"

const whole = v.pipe(v.number(), v.integer())

const plan: v.GenericSchema<unknown, Plan> = v.object({
  currency: v.string(),
  tax: v.object({ rate: whole, included: v.boolean() }),
  zone: v.string(),
  start: whole,
  today: v.nullable(whole),
  recurring: v.nullable(
    v.object({
      amount: whole,
      every: v.object({ unit: v.picklist(["week", "month", "year"]), count: whole }),
      after: v.object({ months: whole, days: whole, intervals: whole }),
      times: v.nullable(whole),
    }),
  ),
  discount: v.nullable(
    v.object({ kind: v.picklist(["percent", "amount"]), value: whole, on: v.picklist(["first", "all"]) }),
  ),
  // Plans from before there was credit have none.
  credit: v.optional(whole, 0),
})

export class PlanError extends Error {}

export function keepPlan(p: Plan): string {
  return JSON.stringify({ version: 1, ...p })
}

/** Reads a kept plan. Throws PlanError, which names the place, where it isn't one of a version that is understood. */
export function readPlan(text: string): Plan {
  const json = JSON.parse(text) as { version?: unknown }
  // The first ones said no version.
  const { version = 1, ...rest } = json
  if (version !== 1) throw new PlanError(`this plan is of version ${JSON.stringify(version)}; version 1 is understood`)
  const read = v.safeParse(plan, rest)
  if (!read.success) throw new PlanError(`${v.getDotPath(read.issues[0]) ?? "plan"}: ${read.issues[0].message}`)
  return read.output
}
