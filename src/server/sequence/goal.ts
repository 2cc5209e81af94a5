// How many people are at the goal of a sequence already: for whom it wouldn't begin.
import { everybody, type Segment } from "@/core/person/segment/segment"
import type { Context } from "../context"
import { type CountedPeople, countSoon } from "../person/count"

export type GoalMet = { readonly met: CountedPeople; readonly all: CountedPeople }

/** Of everybody there is. */
export async function goalMet(s: Context, goal: Segment): Promise<GoalMet> {
  return { met: await countSoon(s, goal), all: await countSoon(s, everybody) }
}

/** From which share on a goal is one that nearly everybody is at. */
const nearly = 0.8

/** Whether it would begin for hardly anybody. */
export const isNearlyEverybody = ({ met, all }: GoalMet): boolean => all.most > 0 && met.most >= nearly * all.least
