import * as v from "valibot"
import { refTo } from "../../reference"
import type { GiftModule } from "./kind"

const input = v.object({ kind: v.literal("offer"), offer: v.pipe(v.number(), v.integer(), v.minValue(1)) })

export type BundleGift = { readonly kind: "offer"; readonly offer: number; readonly title: string }

/** An offer within a bundle: everything that it gives. */
export const bundle: GiftModule<BundleGift, v.InferOutput<typeof input>> = {
  label: "all of the offer",
  chosen: {
    from: "offers",
    group: "Everything in another offer",
    of: (o) => ({ kind: "offer", offer: o.id, title: o.title }),
  },
  input,
  keep: (g) => ({ part: g.offer }),
  read: (r) => ({ kind: "offer", offer: r.part!, title: r.title }),
  typed: (g) => ({ kind: "offer", offer: g.offer }),
  key: (g) => `offer:${g.offer}`,
  opens: () => null,
  within: (g) => g.offer,
  refs: (g) => refTo("offer", g.offer, "is a bundle with it"),
}
