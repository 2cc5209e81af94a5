// What the editor of an e-mail draws it with.

import type { ChipValues } from "@/core/mail/chip"
import type { Letter } from "@/core/mail/compose"
import type { MailAbout } from "@/core/mail/page"
import type { Context } from "../context"
import { loadCourseCards } from "../course/card"
import { type LinkTarget, linkTargets } from "../page/links"
import { teachersIn } from "./page"
import { offerWords } from "./personal"
import { footOf, mailSchool } from "./school"

export type MailEditorContext = {
  readonly about: MailAbout
  /** What is said of offers now ("price-7"). */
  readonly says: ChipValues
  readonly foot: Letter["foot"]
  readonly offers: readonly { readonly id: number; readonly name: string }[]
  readonly targets: readonly LinkTarget[]
}

/** Null before there is a school. */
export async function mailEditorContext(s: Context): Promise<MailEditorContext | null> {
  const school = await mailSchool(s.db)
  if (!school) return null
  const courses = await s.db.rows<{ id: number }>("SELECT id FROM course ORDER BY id DESC LIMIT 100")
  const offers = await s.db.rows<{ id: number; name: string }>(
    "SELECT id, public_name AS name FROM offer WHERE removed_at IS NULL ORDER BY public_name LIMIT 500",
  )
  const pages = await s.db.rows<{ id: number; name: string }>(
    "SELECT t.id, CONCAT(f.name, ': ', t.name) AS name FROM step t JOIN funnel f ON f.id = t.funnel_id WHERE t.page IS NOT NULL ORDER BY f.name, t.position LIMIT 500",
  )
  return {
    about: {
      courses: await loadCourseCards(
        s.db,
        courses.map(({ id }) => ({ to: "course" as const, id, use: "" })),
      ),
      teachers: await teachersIn(s.db),
      offers: new Map(offers.map((o) => [o.id, o.name])),
    },
    says: await offerWords(
      s.db,
      offers.map((o) => o.id),
      school.zone,
      await s.clock.now(),
    ),
    foot: footOf(school, s.config, { says: "", url: "" }),
    offers,
    targets: [
      ...pages.map((x) => ({ group: "Page", name: x.name, href: `step:${x.id}` })),
      ...(await linkTargets(s.db)),
    ],
  }
}
