import { redirect } from "next/navigation"
import { surroundings } from "@/app/door"
import { gateOf } from "@/server/course/learn"
import type { Learner } from "@/server/person/session"

/** What somebody without an admission meets: the opt-in page of the funnel that gives this course, or the sign-in. */
export async function gate(person: Learner | null, slug: string, to: string): Promise<never> {
  const found = await gateOf(surroundings().db, slug)
  if (person === null || !found?.path)
    redirect(person === null ? `/learn/sign-in?to=${encodeURIComponent(to)}` : "/learn")
  redirect(`/${found.path}`)
}
