// The button of an e-mail, and whether somebody who presses it arrives.
import type { LetterToCheck } from "@/core/mail/check"
import { refusals } from "@/core/words/refusals"
import type { Db } from "../db/pool"

type Leads = LetterToCheck["leads"]

export type LetterButton = { readonly lesson: number | null; readonly step: number | null }

/** Whether what a button leads to can be reached by its readers. */
export async function buttonLeads(db: Db, m: LetterButton): Promise<Leads> {
  if (m.step !== null) {
    const step = await db.row<{ live: number; page: number }>(
      "SELECT EXISTS (SELECT 1 FROM live_page p WHERE p.step_id = t.id) AS live, t.page IS NOT NULL AS page FROM step t WHERE t.id = ?",
      [m.step],
    )
    if (!step) return "nowhere"
    return step.live || !step.page ? "live" : "not-live"
  }
  if (m.lesson === null) return "nowhere"
  const lesson = await db.row<{ live: number }>(
    "SELECT l.state = 'live' AND c.state <> 'draft' AS live FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id = ?",
    [m.lesson],
  )
  return lesson ? (lesson.live ? "live" : "not-live") : "nowhere"
}

/** What is wrong with a button that has words, or null. `late`: what it leads to may be put live later. */
export async function buttonTrouble(
  db: Db,
  m: LetterButton & { readonly button: string },
  late: "may be late" | "is wanted now",
): Promise<string | null> {
  const leads = m.button.trim() ? await buttonLeads(db, m) : "live"
  if (leads === "nowhere") return refusals.mail.buttonNowhere(m.button)
  return leads === "not-live" && late === "is wanted now" ? refusals.mail.buttonNotLive(m.button) : null
}
