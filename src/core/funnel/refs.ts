// Everything a funnel refers to, and from where in it.
import { refsOfBlock } from "../page/block/list"
import { allBlocks } from "../page/walk"
import { type Ref, refTo } from "../reference"
import { refsOfDeed } from "../sequence/effect/list"
import type { Funnel } from "./draft"
import { refsOfStep } from "./step/list"

export type RefFrom = {
  readonly from: {
    readonly step?: number
    readonly block?: string
    readonly effect?: number
  }
  readonly ref: Ref
}

export function refsOfFunnel(f: Pick<Funnel, "steps" | "effects">): RefFrom[] {
  return [
    ...f.steps.flatMap((s) => [
      ...refsOfStep(s).map((ref) => ({ from: { step: s.id }, ref })),
      ...refTo("media", s.page?.picture, "is shared with it").map((ref) => ({ from: { step: s.id }, ref })),
      ...[...allBlocks(s.page?.blocks ?? [])].flatMap((b) =>
        refsOfBlock(b).map((ref) => ({ from: { step: s.id, block: b.id }, ref })),
      ),
    ]),
    ...f.effects.flatMap((e) => refsOfDeed(e).map((ref) => ({ from: { step: e.step, effect: e.id }, ref }))),
  ]
}
