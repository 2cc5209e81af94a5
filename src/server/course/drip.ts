// The rules of all modules and lessons of a course at once.
import * as v from "valibot"
import { dripRules, dripSchema } from "@/core/course/drip"
import { atOnce } from "@/core/course/opens"
import type { Context } from "../context"
import { id, ok, refusal, type Saved } from "../saved"
import { readOutline } from "./outline"
import { changingPlan } from "./plan"

const input = v.object({ course: id, drip: dripSchema })

/** Sets a drip in place of every rule that there was; what is open to somebody stays open. */
export async function setDrip(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const { course, drip } = read.output
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    await changingPlan(tx, course, at, async () => {
      const rows = (await readOutline(tx, course)).flatMap((r) => (r.id === null ? [] : [{ kind: r.kind, id: r.id }]))
      await tx.write("UPDATE course SET opens = ?, revision = revision + 1 WHERE id = ?", [
        JSON.stringify(atOnce),
        course,
      ])
      for (const { row, opens } of dripRules(rows, drip)) {
        const rule = opens && JSON.stringify(opens)
        if (row.kind === "module") await tx.update("module", row.id, { opens: rule })
        else await tx.write("UPDATE lesson SET opens = ?, revision = revision + 1 WHERE id = ?", [rule, row.id])
      }
    })
    return ok
  })
}
