// What preflight finds and offers to mend at once, and that it is gone afterwards; and a funnel that sells only a file.

import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Finding, FindingRule } from "@/core/finding"
import { courseAt } from "@/core/funnel/step/list"
import { loadFunnel } from "@/server/funnel/load"
import { mend } from "@/server/funnel/mend"
import { newFunnel } from "@/server/funnel/new-funnel"
import { checkFunnel, publishFunnel } from "@/server/funnel/release"
import { storeMedia } from "@/server/media/store"
import { type OfferInput, saveOffer } from "@/server/offer/offer"
import { openSchool, type TestSchool, testSchool } from "../support/school"
import { offer } from "../support/shop"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("mend")
  school = await openSchool(t)
})
afterAll(() => t.end())

const found = async (rule: FindingRule): Promise<Finding[]> =>
  (await checkFunnel(t.s, (await loadFunnel(t.s.db, school.funnel))!)).filter((f) => f.rule === rule && "act" in f.fix)

async function mended(rule: FindingRule): Promise<void> {
  const [finding] = await found(rule)
  expect(await mend(t.s, finding?.fix)).toEqual({ ok: true })
  expect(await found(rule)).toEqual([])
}

describe("one press", () => {
  it("leads an outcome on that led nowhere, to the step that follows", async () => {
    const inbox = (await loadFunnel(t.s.db, school.funnel))!.steps[1]!
    await t.s.db.write("UPDATE stream SET to_step_id = NULL WHERE step_id = ?", [inbox.id])
    await mended("outcome-leads-nowhere")
    const after = (await loadFunnel(t.s.db, school.funnel))!
    expect(after.streams.find((x) => x.from === inbox.id)?.to).toBe(after.steps[2]!.id)
  })
  it("puts a draft course live", async () => {
    await t.s.db.write("UPDATE course SET state = 'draft' WHERE id = ?", [school.course])
    await mended("course-not-ready")
  })
  it("puts a draft sequence live", async () => {
    await t.s.db.write("UPDATE sequence SET state = 'draft'")
    await mended("sequence-not-ready")
  })
  it("writes the mail for a lesson that came since, in its place, and counts all anew", async () => {
    await t.s.db.write("UPDATE lesson SET position = position + 1 WHERE course_id = ? AND position > 1", [
      school.course,
    ])
    await t.s.db.write(
      "INSERT INTO lesson (course_id, position, title, body, minutes, state) VALUES (?, 2, 'Salt', '<p>Weigh it.</p>', 4, 'live')",
      [school.course],
    )
    await mended("lesson-without-mail")
    const mails = (await loadFunnel(t.s.db, school.funnel))!.sequences[0]!.mails
    expect(mails.map((m) => m.subject)).toEqual([
      "1 of 4: Lesson 1",
      "2 of 4: Salt",
      "3 of 4: Lesson 2",
      "4 of 4: Lesson 3",
    ])
    expect(mails[1]).toMatchObject({ afterDays: 1, atMinute: 450, button: "Open the lesson (4 min)" })
  })
  it("counts the mails anew where one was taken out", async () => {
    await t.s.db.write("UPDATE sequence_mail SET subject = '9 of 9: Salt' WHERE subject = '2 of 4: Salt'")
    await mended("wrong-sum")
  })
  it.each([[null], [{ act: "drop" }], [{ act: "course-live", course: "1" }], [{ act: "lead-on", step: 1 }]])(
    "does nothing with %j",
    async (typed) => {
      expect(await mend(t.s, typed)).toHaveProperty("refused")
    },
  )
})

describe("a funnel that sells only a file", () => {
  const input = (gifts: OfferInput["gifts"]): OfferInput =>
    offer("Salt tables", [{ kind: "full", amount: 900 }], { gifts })
  const about = (id: number) => ({ goal: "sell-course", offer: id, further: null, second: null })

  it("is refused while the offer gives nothing", async () => {
    const empty = (await saveOffer(t.s, input([]))) as { id: number }
    expect(await newFunnel(t.s, about(empty.id))).toMatchObject({
      refused: expect.stringContaining("gives nothing yet"),
    })
  })
  it("is whole without a course: nothing to fix but the cards, and it is published", async () => {
    const stored = await storeMedia(t.s, "file", "salt.pdf", Buffer.from("%PDF-1.4\n1 0 obj\n<<>>\nendobj\n%%EOF\n"))
    const media = (stored as { id: number }).id
    const made = (await saveOffer(t.s, input([{ kind: "file", media }]))) as { id: number }
    const { funnel } = (await newFunnel(t.s, about(made.id))) as { funnel: number }
    const draft = (await loadFunnel(t.s.db, funnel))!
    expect(draft.steps.map((x) => [x.kind, courseAt(x)])).toEqual([
      ["sales", null],
      ["checkout", null],
      ["welcome", null],
      ["learning", null],
    ])
    const stops = (await checkFunnel(t.s, draft)).filter((f) => f.weight === "stop").map((f) => f.rule)
    expect(stops.filter((r) => r !== "no-processor" && r !== "no-statement-text")).toEqual([])
    expect(await publishFunnel(t.s, funnel, true)).toHaveProperty("release")
  })
})
