import * as v from "valibot"
import { refTo } from "../../reference"
import type { GiftModule } from "./kind"

const input = v.object({ kind: v.literal("file"), media: v.pipe(v.number(), v.integer(), v.minValue(1)) })

export type FileGift = { readonly kind: "file"; readonly media: number; readonly title: string }

export const file: GiftModule<FileGift, v.InferOutput<typeof input>> = {
  label: "file",
  chosen: { from: "files", group: "Files", of: (m) => ({ kind: "file", media: m.id, title: m.title }) },
  input,
  keep: (g) => ({ media: g.media }),
  read: (r) => ({ kind: "file", media: r.media!, title: r.title }),
  typed: (g) => ({ kind: "file", media: g.media }),
  key: (g) => `file:${g.media}`,
  opens: (g) => ({ media: g.media }),
  refs: (g) => refTo("media", g.media, "gives it"),
}
