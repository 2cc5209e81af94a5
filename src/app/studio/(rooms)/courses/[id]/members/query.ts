import type { MembersQuery } from "@/server/course/members"
import { pageOf } from "../../../asked"

/** What the address of the list asks for. */
export function membersQuery(course: number, asked: Record<string, string | undefined>): MembersQuery {
  return {
    course,
    search: (asked.search ?? "").slice(0, 200),
    only: asked.only === "in" || asked.only === "ended" ? asked.only : "",
    page: pageOf(asked.page),
  }
}
