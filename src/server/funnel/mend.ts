// The acts by which a finding of preflight is mended at once.

import * as v from "valibot"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { id, ok, type Saved } from "../saved"
import { countMails, writeLessonMail } from "../sequence/lesson-mails"
import { putLive } from "../sequence/live"
import { leadOutcome } from "./steps"

const act = v.variant("act", [
  v.object({ act: v.literal("lead-on"), step: id, outcome: v.string(), to: id }),
  v.object({ act: v.literal("course-live"), course: id }),
  v.object({ act: v.literal("sequence-live"), sequence: id }),
  v.object({ act: v.literal("write-mail"), sequence: id, lesson: id }),
  v.object({ act: v.literal("count-mails"), sequence: id }),
])

export async function mend(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(act, typed)
  if (!read.success) return { refused: refusals.gone.mend }
  const fix = read.output
  switch (fix.act) {
    case "lead-on":
      return leadOutcome(s, fix)
    case "course-live":
      await s.db.write("UPDATE course SET state = 'live', revision = revision + 1 WHERE id = ?", [fix.course])
      return ok
    case "sequence-live":
      return putLive(s, fix.sequence)
    case "write-mail":
      return writeLessonMail(s, fix.sequence, fix.lesson)
    case "count-mails":
      return s.db.transaction((tx) => countMails(tx, fix.sequence))
  }
}
