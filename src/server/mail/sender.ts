// Who mail comes from.
import type { Config } from "../config"
import type { Message } from "../port/mailer"

export type School = {
  readonly name: string
  readonly sender_name: string
  readonly sender_email: string
  readonly postal_address: string
}

export function senderOf(school: School, config: Config): Message["from"] {
  return {
    name: school.sender_name || school.name,
    address: school.sender_email || `school@${new URL(config.origin).hostname}`,
  }
}
