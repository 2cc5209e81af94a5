// The dates of the webinars that a funnel is about.
import type { Funnel } from "@/core/funnel/draft"
import { webinarOf } from "@/core/funnel/step/list"
import type { Context } from "../context"

/** Those for which somebody has a seat, the latest first; at most 40. */
export async function datesOfFunnel(
  s: Context,
  funnel: Funnel,
): Promise<{ readonly id: number; readonly starts: Date }[]> {
  const webinars = [...new Set(funnel.steps.flatMap((x) => webinarOf(x) ?? []))]
  if (!webinars.length) return []
  return s.db.rows<{ id: number; starts: Date }>(
    `SELECT d.id, d.starts_at AS starts FROM webinar_date d WHERE d.webinar_id IN (?) AND d.called_off_at IS NULL
       AND EXISTS (SELECT 1 FROM registration r WHERE r.date_id = d.id AND r.state = 'registered') ORDER BY d.starts_at DESC LIMIT 40`,
    [webinars],
  )
}
