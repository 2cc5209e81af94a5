// A link in a mail: recorded, and led on to where the version says. The address is never in the link, so it can be led
// nowhere else.

import { courseAt, readSettings, type StepKind } from "@/core/funnel/step/list"
import type { Letter } from "@/core/sequence/document"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { versionById } from "../releases"
import { verify } from "../sign"
import type { Surroundings } from "../surroundings"
import { linkIn } from "./letter/sequence"

/** Where a signed link leads, or null where it isn't one of ours or leads nowhere any more. */
export async function followLink(s: Surroundings, token: string): Promise<string | null> {
  const [id, n] = (verify(s.config.secret, "click", token) ?? "").split("-").map(Number)
  if (!id || n === undefined || Number.isNaN(n)) return null
  const mail = await s.db.row<{
    person: number | null
    funnel: number | null
    sent: number | null
    version: number | null
  }>(
    `SELECT m.person_id AS person, m.funnel_id AS funnel, m.sequence_mail_id AS sent, q.live_version_id AS version
     FROM mail m LEFT JOIN enrolment n ON n.id = m.enrolment_id LEFT JOIN sequence q ON q.id = n.sequence_id WHERE m.id = ?`,
    [id],
  )
  const version = mail?.version == null ? undefined : await versionById(s.db, mail.version)
  const letter = version?.document.mails.find((m) => m.id === mail?.sent)
  const target = letter && (n === 0 ? await addressOfButton(s.db, letter) : linkIn(letter.body, n))
  if (!mail || !target) return null
  await happen(s.db, [
    {
      kind: "clicked",
      at: await s.clock.now(),
      once: `clicked:${id}:${n}`,
      person: mail.person,
      funnel: mail.funnel,
      subject: id,
      words: target,
    },
  ])
  return target
}

/** Where a button leads now: the page as it is published, or the lesson. */
export async function addressOfButton(db: Db, m: Pick<Letter, "lessonId" | "stepId">): Promise<string | null> {
  if (m.stepId !== null) {
    const step = await db.row<{ kind: StepKind; path: string; live: string | null; settings: string }>(
      "SELECT t.kind, t.path, (SELECT p.path FROM live_page p WHERE p.step_id = t.id LIMIT 1) AS live, t.settings FROM step t WHERE t.id = ?",
      [m.stepId],
    )
    if (!step) return null
    const path = step.live ?? step.path
    if (path) return `/${path}`
    const course = await courseSlug(
      db,
      courseAt({ kind: step.kind, settings: readSettings(step.kind, JSON.parse(step.settings)) }),
    )
    return course ? `/learn/${course}` : "/learn"
  }
  const lesson = await db.row<{ slug: string }>(
    "SELECT c.slug FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id = ?",
    [m.lessonId],
  )
  return lesson ? `/learn/${lesson.slug}/${m.lessonId}` : null
}

const courseSlug = async (db: Db, id: number | null) =>
  (await db.row<{ slug: string }>("SELECT slug FROM course WHERE id = ?", [id]))?.slug
