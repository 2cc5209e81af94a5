import * as v from "valibot"
import { words } from "../../words/en"
import { refusals } from "../../words/refusals"
import type { GiftModule } from "./kind"

const input = v.object({
  kind: v.literal("post"),
  title: v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(200, refusals.value.longest(200)),
    v.check((t) => !/[\r\n]/.test(t), refusals.value.oneLine),
    v.nonEmpty(refusals.offer.post),
  ),
})

export type PostGift = { readonly kind: "post"; readonly title: string }

/** Something that is sent by post. */
export const post: GiftModule<PostGift, v.InferOutput<typeof input>> = {
  label: "by post",
  written: { field: "Sent by post", of: (title) => ({ kind: "post", title }) },
  shown: (g) => words.offer.gives.post(g.title),
  input,
  keep: (g) => ({ words: g.title }),
  read: (r) => ({ kind: "post", title: r.words }),
  typed: (g) => ({ kind: "post", title: g.title }),
  key: (g) => `post:${g.title}`,
  opens: () => null,
  byPost: true,
  refs: () => [],
}
