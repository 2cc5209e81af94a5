// What every mail of a sequence or broadcast carries: links that are counted, the way to leave, and the picture that tells that it
// was opened.
import type { Config } from "../config"
import type { DueMail, WrittenLetter } from "../port/letter"
import { sign } from "../sign"

type Followed = Required<Pick<WrittenLetter, "leave" | "headers" | "track" | "seen">>

/** @param list what it is a mail of, as its List-ID says it: "sequence-12" */
export function followed(config: Config, mail: DueMail, list: string, leaveLine: string): Followed {
  const leave = `${config.origin}/mails/${sign(config.secret, "leave", String(mail.address_id))}?mail=${mail.id}`
  return {
    leave: { says: leaveLine, url: leave },
    seen: `${config.origin}/mail.gif/${sign(config.secret, "open", String(mail.id))}`,
    track: (_, n) => `${config.origin}/go/${sign(config.secret, "click", `${mail.id}-${n}`)}`,
    // RFC 2369 and RFC 8058: one click, a POST, and no more.
    headers: {
      "List-Unsubscribe": `<${leave}>`,
      "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
      "List-ID": `<${list}.${new URL(config.origin).hostname}>`,
    },
  }
}
