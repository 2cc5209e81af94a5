import * as v from "valibot"
import type { GiftModule } from "./kind"

const input = v.object({
  kind: v.literal("post"),
  title: v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(200, "Keep it to 200 characters."),
    v.check((t) => !/[\r\n]/.test(t), "One line, please."),
    v.nonEmpty("Say what is sent."),
  ),
})

export type PostGift = { readonly kind: "post"; readonly title: string }

/** Something that is sent by post. */
export const post: GiftModule<PostGift, v.InferOutput<typeof input>> = {
  label: "by post",
  written: { field: "Sent by post", of: (title) => ({ kind: "post", title }) },
  input,
  keep: (g) => ({ words: g.title }),
  read: (r) => ({ kind: "post", title: r.words }),
  typed: (g) => ({ kind: "post", title: g.title }),
  key: (g) => `post:${g.title}`,
  opens: () => null,
  byPost: true,
  refs: () => [],
}
