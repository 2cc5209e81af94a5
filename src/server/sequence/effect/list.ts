// What each kind of effect does.

import type { Deed } from "@/core/funnel/draft"
import type { EffectKind } from "@/core/funnel/effect/list"
import type { Db } from "../../db/pool"
import { beginASequence } from "./begin-sequence"
import { closeACourse } from "./close-course"
import { endASequence } from "./end-sequence"
import { openACourse } from "./open-course"
import type { About, Perform } from "./perform"
import { putATagOn, takeATagOff } from "./tag"

const performs: Record<EffectKind, Perform> = {
  "begin-sequence": beginASequence,
  "end-sequence": endASequence,
  "open-course": openACourse,
  "close-course": closeACourse,
  "tag-on": putATagOn,
  "tag-off": takeATagOff,
}

/** Does what these effects say, in their order. To be called inside a transaction. */
export async function performAll(tx: Db, effects: readonly Deed[], about: About): Promise<void> {
  for (const e of effects) await performs[e.kind](tx, e, about)
}
