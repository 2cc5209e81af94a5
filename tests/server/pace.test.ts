// The sending rate: kept by two workers together, slowed down by a receiver's answer, and never for what somebody waits for.
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest"
import { newBroadcastDocument } from "@/core/mail/broadcast"
import { domainOf, readPace, savePace, slowedDown } from "@/server/mail/pace"
import { sendDue } from "@/server/mail/send"
import { MailTrouble } from "@/server/port/mailer"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
const went: { to: string; at: number }[] = []

beforeAll(async () => {
  t = await testSchool("pace")
  await openSchool(t)
  await t.s.db.write("INSERT INTO broadcast (id, name, document, state, made_at) SELECT 1, 'B', ?, 'sent', NOW()", [
    JSON.stringify(document),
  ])
})
afterAll(() => t.end())
beforeEach(async () => {
  went.length = 0
  await t.s.db.write("DELETE FROM mail")
  await t.s.db.write("DELETE FROM mail_pace")
  t.misbehave(async (m) => {
    went.push({ to: m.to.address, at: Date.now() })
  })
})

const document = { ...newBroadcastDocument, subjects: ["S"], body: "<p>Text</p>" }
/** Mails of a broadcast to strangers at a domain, due now. */
async function due(n: number, domain: string): Promise<void> {
  await t.s.db.write("INSERT INTO mail (once, kind, to_email, to_name, goes, broadcast_id, due_at, try_at) VALUES ?", [
    Array.from({ length: n }, (_, i) => [
      `${domain}:${i}`,
      "broadcast",
      `p${i}@${domain}`,
      "",
      "usual",
      1,
      new Date(t.at()),
      new Date(0),
    ]),
  ])
}
const waiting = async () => (await t.s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM mail WHERE state = 'due'"))!.n
const bothWorkers = () => Promise.all(["one", "two"].map((w) => sendDue(t.s, w)))

describe("a receiving domain", () => {
  it.each([
    ["a@POST.example", "post.example"],
    ["a@Dömain.example", "xn--dmain-jua.example"],
    ["a", "a"],
  ])("of %s is %s", (email, domain) => expect(domainOf(email)).toBe(domain))
})

describe("a rate", () => {
  it("is a whole number from one on, or none", async () => {
    for (const bad of [
      { perSecond: 0, perDomain: null },
      { perSecond: 1.5, perDomain: null },
      { perSecond: 5000, perDomain: null },
      null,
    ])
      expect(await savePace(t.s, bad)).toMatchObject({ refused: expect.any(String) })
    expect(await savePace(t.s, { perSecond: 20, perDomain: 5 })).toEqual({ ok: true })
    expect(await readPace(t.s.db)).toEqual({ perSecond: 20, perDomain: 5 })
  })

  it("to one domain is kept by two workers together, and holds no other domain up", async () => {
    await savePace(t.s, { perSecond: null, perDomain: 4 })
    await due(12, "slow.example")
    await due(3, "other.example")
    const begun = Date.now()
    await bothWorkers()
    // All fifteen are claimed at once: the three others come before the last of the slow ones has its turn.
    expect(went.filter((w) => w.to.endsWith("@other.example"))).toHaveLength(3)
    const nobodyWaits = async () => {
      await bothWorkers()
      return waiting()
    }
    await expect.poll(nobodyWaits, { timeout: 30_000 }).toBe(0)
    const slow = went.filter((w) => w.to.endsWith("@slow.example"))
    expect(new Set(slow.map((w) => w.to)).size).toBe(12)
    // However late a machine is, nobody goes before their turn.
    for (const [k, w] of slow.entries()) expect(w.at - begun).toBeGreaterThanOrEqual(250 * k - 5)
  })

  it("is lifted at once where it is set anew", async () => {
    await savePace(t.s, { perSecond: 1, perDomain: null })
    await due(60, "post.example")
    await sendDue(t.s, "one")
    expect(await waiting()).toBeGreaterThan(30)
    await savePace(t.s, { perSecond: null, perDomain: null })
    await sendDue(t.s, "one")
    expect(await waiting()).toBe(0)
  })

  it("doesn’t hold up what somebody waits for", async () => {
    await savePace(t.s, { perSecond: 1, perDomain: 1 })
    await due(5, "post.example")
    await t.s.db.write(
      "INSERT INTO mail (once, kind, to_email, to_name, broadcast_id, due_at, try_at) SELECT CONCAT('asked:', n), 'broadcast', 'me@post.example', '', 1, ?, '1970-01-01' FROM (SELECT 1 AS n UNION SELECT 2 UNION SELECT 3) x",
      [new Date(t.at())],
    )
    await sendDue(t.s, "one")
    expect(went.slice(0, 3).map((w) => w.to)).toEqual(Array(3).fill("me@post.example"))
    expect(await waiting()).toBeGreaterThan(0)
  })
})

describe("a receiver that answers “later”", () => {
  it("is slowed down, says so, and picks up again", async () => {
    await savePace(t.s, { perSecond: null, perDomain: null })
    await due(40, "full.example")
    await due(10, "well.example")
    t.misbehave(async (m) => {
      if (m.to.address.endsWith("@full.example"))
        throw new MailTrouble("452 4.2.2 Too much from you", { reply: 452, receiver: true })
      went.push({ to: m.to.address, at: Date.now() })
    })
    await sendDue(t.s, "one")
    expect(went).toHaveLength(10)
    // Forty answers at once are one: halved once, to four a second.
    expect(await slowedDown(t.s.db)).toMatchObject([
      { domain: "full.example", perMinute: 240, says: "452 4.2.2 Too much from you" },
    ])
    await t.s.db.write("DELETE FROM mail")
    await due(90, "full.example")
    t.misbehave(async (m) => {
      went.push({ to: m.to.address, at: Date.now() })
    })
    await sendDue(t.s, "one")
    expect(await waiting()).toBeGreaterThan(40)
    // A minute in which it takes everything.
    await t.s.db.write("UPDATE mail_pace SET slowed_at = ?", [new Date(Date.now() - 61_000)])
    await t.s.db.write("UPDATE mail SET try_at = '1970-01-01'")
    await t.s.db.write("UPDATE mail_pace SET free_at = '1970-01-01', tail_at = '1970-01-01'")
    await sendDue(t.s, "one")
    expect(await slowedDown(t.s.db)).toEqual([])
  })
})
