// Mail as the studio lists it, and the way of one of them in sentences.
import { afterAll, beforeAll, expect, it } from "vitest"
import { listMail, mailWay, shows } from "@/server/mail/mail-view"
import { type TestSchool, testSchool } from "../support/school"

let t: TestSchool
const at = (minutes: number) => new Date(Date.parse("2026-11-24T09:00:00Z") + minutes * 60_000)
const ids: Record<string, number> = {}
beforeAll(async () => {
  t = await testSchool("mail-view")
  const add = async (name: string, values: Record<string, unknown>) => {
    const row: Record<string, unknown> = {
      once: name,
      kind: "way-in",
      to_email: `${name}@post.example`,
      to_name: "",
      due_at: at(0),
      try_at: at(0),
      ...values,
    }
    const made = await t.s.db.write(`INSERT INTO mail (${Object.keys(row).join(", ")}) VALUES (?)`, [
      Object.values(row),
    ])
    ids[name] = made.id
  }
  await add("later", { due_at: at(60) })
  await add("now", { due_at: at(1), tries: 2, trouble: "451 try later" })
  await add("sent", { state: "sent", sent_at: at(5), opened_at: at(9), clicked_at: at(10), subject: "Hello" })
  await add("sent-after", { state: "sent", due_at: at(3), sent_at: at(6), bounced_at: at(8) })
  await add("held", { state: "held", wanted_at: at(-60) })
  await add("unsure", { state: "unsure" })
  await add("refused", { state: "rejected", trouble: "550 no such mailbox" })
  await t.s.db.write("INSERT INTO mail_hold (mail_id, from_at, until_at, why) VALUES (?, ?, NULL, 'paused-person')", [
    ids.held,
    at(0),
  ])
})
afterAll(() => t.end())

it("lists each where it stands, those first that matter first, and no other", async () => {
  const listed = Object.fromEntries(
    await Promise.all(
      shows.map(async (show) => [show, (await listMail(t.s.db, show)).map((m) => m.to_email.split("@")[0])] as const),
    ),
  )
  expect(listed).toEqual({
    due: ["now", "later"],
    sent: ["sent-after", "sent"],
    waiting: ["now"],
    held: ["held"],
    unsure: ["unsure"],
    rejected: ["refused"],
  })
})

it("tells the way of each in whole sentences, and of none that isn't there", async () => {
  for (const [name, id] of Object.entries(ids)) {
    const way = (await mailWay(t.s.db, id))!
    expect(way.to).toBe(`${name}@post.example`)
    expect(way.says.length).toBeGreaterThan(0)
    for (const line of way.says) {
      expect(line).toMatch(/^[A-Z“].*\.$/)
      expect(line).not.toMatch(/undefined|null|NaN|Invalid/)
    }
  }
  expect((await mailWay(t.s.db, ids.refused!))!.says.join(" ")).toContain("550 no such mailbox")
  expect((await mailWay(t.s.db, ids["sent-after"]!))!.says.join(" ")).toContain("no reason was given")
  expect((await mailWay(t.s.db, ids.sent!))!.subject).toBe("Hello")
  expect(await mailWay(t.s.db, 999_999)).toBeUndefined()
})
