// Who mail comes from.
import type { Config } from "../config"
import type { LetterSchool } from "../port/letter"
import type { Message } from "../port/mailer"

export function senderOf(school: LetterSchool, config: Config): Message["from"] {
  return {
    name: school.sender_name || school.name,
    address: school.sender_email || `school@${new URL(config.origin).hostname}`,
  }
}
