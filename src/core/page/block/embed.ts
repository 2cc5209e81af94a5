import * as v from "valibot"
import { type BlockModule, id, line } from "./kind"

const schema = v.object({
  id,
  kind: v.literal("embed"),
  url: v.pipe(v.string(), v.trim(), v.maxLength(1_000)),
  says: line,
})

/** The host of an address that may be shown within a lesson: https alone, without a name and password; null: it may not. */
export function embeddedHost(url: string): string | null {
  if (!URL.canParse(url)) return null
  const { protocol, username, password, host } = new URL(url)
  return protocol === "https:" && !username && !password ? host : null
}

/** Something of another site, shown within the lesson once its learner has asked for it. */
export const embed: BlockModule<v.InferOutput<typeof schema>> = {
  name: "embed",
  schema,
  inLessons: true,
  onlyWhere: "asked",
  fresh: (id) => ({ id, kind: "embed", url: "", says: "" }),
  html: (out, b) => out.part({ part: "embed", block: b.id }),
  refs: () => [],
  gap: (b) => (b.url === "" ? "an address is missing" : embeddedHost(b.url) ? null : "an address isn't one of https"),
  gapSays: "Paste the address, or remove it",
  text: (b) => b.says,
  line: (b) => b.says || (embeddedHost(b.url) ?? "embed"),
}
