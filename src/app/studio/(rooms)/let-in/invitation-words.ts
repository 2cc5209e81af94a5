import type { InvitationListed } from "@/server/course/members"
import { day } from "../words"

/** What an invitation opens, how far it is used, and for how long it counts. */
export function aboutInvitation(i: InvitationListed, zone: string): string {
  return [
    i.module ? `“${i.module}” only` : "",
    i.most === null ? `used ${i.used} times` : `${i.used} of ${i.most} used`,
    i.until_at ? `until ${day(new Date(i.until_at.getTime() - 1), zone)}` : "",
    i.days === null ? "" : `lasts ${i.days} days`,
  ]
    .filter(Boolean)
    .join(", ")
}
