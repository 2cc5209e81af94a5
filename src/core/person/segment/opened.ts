import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, day, days, daysWords, id, nameWords } from "./kind"

const schema = v.object({
  kind: v.literal("opened"),
  /** Whose e-mails; null: any at all. */
  sequence: v.nullable(id),
  has: v.boolean(),
  /** In so many last days; null: ever. */
  days: v.nullable(days),
})

/** Opened, or a link in it followed, as far as a mail can tell: some programs never say, others always do. */
export const opened: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "Opened e-mails",
  schema,
  says(c, name) {
    const of = c.sequence === null ? "" : ` of ${nameWords(name("sequence", c.sequence))}`
    return `have opened ${c.has ? "an" : "no"} e-mail${of}${c.days === null ? "" : ` in the last ${daysWords(c.days)}`}`
  },
  sql: (c, now) =>
    among(
      c.has,
      `SELECT m.person_id FROM mail m${c.sequence === null ? "" : " JOIN sequence_mail x ON x.id = m.sequence_mail_id AND x.sequence_id = ?"} WHERE m.opened_at >= ? AND m.person_id IS NOT NULL`,
      [...(c.sequence === null ? [] : [c.sequence]), new Date(c.days === null ? 0 : now - c.days * day)],
    ),
  refs: (c) => refTo("sequence", c.sequence, "asks who opened an e-mail of it"),
  stranger: (c) => !c.has,
}
