import * as v from "valibot"
import { refTo } from "../../reference"
import type { EffectModule } from "./kind"

const settings = v.object({ offer: v.number() })

/** Whoever is happy recommends when they are asked at the right moment. */
export const inviteAffiliate: EffectModule<v.InferOutput<typeof settings>> = {
  label: "invite to recommend",
  says: (name) => `invites to recommend “${name}”`,
  chooses: "offer",
  settings,
  of: (offer) => ({ offer }),
  refs: (s) => refTo("offer", s.offer, "invites to recommend it"),
}
