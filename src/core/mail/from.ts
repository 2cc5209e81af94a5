// Who an e-mail of one's own comes from, where that is another than the school's sender. The address it is sent from stays the
// school's: it is the one that receivers know the signature of.
import * as v from "valibot"
import { parseAddress } from "../person/address"
import { refusals } from "../words/refusals"

export const fromSchema = v.object({
  /** Empty: the school's. */
  name: v.pipe(
    v.string(),
    v.trim(),
    v.maxLength(120, refusals.value.longest(120)),
    v.check((t) => !/\p{Cc}/u.test(t), refusals.value.oneLine),
  ),
  /** Where answers go; empty: to the address it comes from. */
  replyTo: v.pipe(
    v.string(),
    v.trim(),
    v.check((t) => t === "" || parseAddress(t) !== null, refusals.value.emailCheck),
  ),
})

export type From = v.InferOutput<typeof fromSchema>

/** As the school says. */
export const fromSchool: From = { name: "", replyTo: "" }
