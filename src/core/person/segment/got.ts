import * as v from "valibot"
import { refTo } from "../../reference"
import { among, type ConditionModule, day, days, daysWords, id, nameWords } from "./kind"

const schema = v.object({
  kind: v.literal("got"),
  /** Whose e-mails; null: any at all. */
  sequence: v.nullable(id),
  has: v.boolean(),
  /** In so many last days; null: ever. */
  days: v.nullable(days),
})

/** E-mails that were handed over to their mail server. */
export const got: ConditionModule<v.InferOutput<typeof schema>> = {
  label: "E-mails they got",
  schema,
  says(c, name) {
    const of = c.sequence === null ? "" : ` of ${nameWords(name("sequence", c.sequence))}`
    return `have got ${c.has ? "an" : "no"} e-mail${of}${c.days === null ? "" : ` in the last ${daysWords(c.days)}`}`
  },
  sql: (c, now) =>
    among(
      c.has,
      `SELECT m.person_id FROM mail m${c.sequence === null ? "" : " JOIN sequence_mail x ON x.id = m.sequence_mail_id AND x.sequence_id = ?"} WHERE m.state = 'sent' AND m.sent_at >= ? AND m.person_id IS NOT NULL`,
      [...(c.sequence === null ? [] : [c.sequence]), new Date(c.days === null ? 0 : now - c.days * day)],
    ),
  refs: (c) => refTo("sequence", c.sequence, "asks who got an e-mail of it"),
  stranger: (c) => !c.has,
}
