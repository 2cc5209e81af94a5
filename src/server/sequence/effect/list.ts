// What each kind of effect does.

import type { Action } from "@/core/sequence/effect/list"
import { aboutOf, type EffectKind } from "@/core/sequence/effect/list"
import type { Db } from "../../db/pool"
import { putTagsOn } from "../../person/tag"
import { beginASequence } from "./begin-sequence"
import { closeACourse } from "./close-course"
import { endASequence } from "./end-sequence"
import { inviteAnAffiliate } from "./invite-affiliate"
import { openACourse } from "./open-course"
import type { EffectAbout, Perform } from "./perform"
import { putATagOn, takeATagOff } from "./tag"

const performs: Record<EffectKind, Perform> = {
  "begin-sequence": beginASequence,
  "end-sequence": endASequence,
  "open-course": openACourse,
  "close-course": closeACourse,
  "tag-on": putATagOn,
  "tag-off": takeATagOff,
  "invite-affiliate": inviteAnAffiliate,
}

/** Does what these effects say, in their order, for each of these people. To be called inside a transaction. */
export async function performAll(
  tx: Db,
  effects: readonly Action[],
  people: readonly number[],
  about: EffectAbout,
): Promise<void> {
  for (let i = 0; i < effects.length; ) {
    // Tags that are put on one after the other are put on together.
    const tags = tagsFrom(effects, i)
    if (tags.length > 1)
      await putTagsOn(
        tx,
        people.flatMap((person) => tags.map((e) => ({ person, tag: aboutOf(e), at: about.at, name: e.name }))),
      )
    else await performs[effects[i]!.kind](tx, effects[i]!, people, about)
    i += Math.max(1, tags.length)
  }
}

function tagsFrom(effects: readonly Action[], from: number): Action[] {
  const end = effects.findIndex((e, i) => i >= from && e.kind !== "tag-on")
  return effects.slice(from, end < 0 ? undefined : end)
}
