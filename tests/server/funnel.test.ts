import fc from "fast-check"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import * as course from "@/server/course/course"
import * as edit from "@/server/funnel/edit"
import { arrive, recordNewcomers } from "@/server/funnel/journey"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { checkFunnel, isChanged, publishFunnel, unpublishFunnel } from "@/server/funnel/release"
import { readRiver, rollUp } from "@/server/funnel/rollup"
import * as steps from "@/server/funnel/steps"
import { releaseById } from "@/server/releases"
import { saveSchool } from "@/server/school"
import { saveMail } from "@/server/sequence/edit"
import { readToday } from "@/server/today"
import { join_, openSchool, someVisitor, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("funnel")
  school = await openSchool(t)
})
afterAll(() => t.end())
const load = async (id = school.funnel) => (await loadFunnel(t.s.db, id))!

describe("new funnel", () => {
  it("makes the whole thing, without anything to fix", async () => {
    const funnel = await load()
    expect(funnel.steps.map((s) => [s.kind, s.path])).toEqual([
      ["optin", "first"],
      ["inbox", "first/check-your-inbox"],
      ["welcome", "first/welcome"],
      ["learning", ""],
    ])
    expect(funnel.sequences[0]!.mails).toHaveLength(3)
    // What waits for words is said, and stops nothing: visitors see nothing of it.
    expect((await checkFunnel(t.s, funnel)).map((f) => [f.weight, f.data])).toEqual([
      ["advice", { step: "First", gap: "who teaches isn’t said", mend: null }],
    ])
    expect(await isChanged(t.s.db, funnel)).toBe(false)
  })
  it("finds addresses of its own for a second one", async () => {
    const second = await newFunnel(t.s, { goal: "mini-course", course: school.course })
    expect((await load((second as { funnel: number }).funnel)).steps[0]!.path).toBe("first-2")
  })
  it.each([
    [{ goal: "mini-course", course: 999 }],
    [{ goal: "riches", course: 1 }],
    [{ goal: "mini-course", course: "1; DROP" }],
    [null],
  ])("refuses %j", async (asked) => {
    expect(await newFunnel(t.s, asked)).toMatchObject({ refused: expect.any(String) })
  })
  it("wants a lesson first", async () => {
    const made = await course.newCourse(t.s, "Empty")
    expect(await newFunnel(t.s, { goal: "mini-course", course: (made as { id: number }).id })).toMatchObject({
      refused: expect.stringContaining("no lesson yet"),
    })
  })
})

describe("releases", () => {
  it("stay as they were published, whatever is edited since, and a form goes by its own", async () => {
    const before = (await releaseById(t.s.db, school.release))!
    const funnel = await load()
    const [optin, inbox, welcome] = funnel.steps
    await edit.savePage(t.s, optin!.id, 1, { ...optin!.page!, title: "Changed" })
    await steps.leadOutcome(t.s, { step: optin!.id, outcome: "joined", to: welcome!.id })
    expect(await isChanged(t.s.db, await load())).toBe(true)
    expect((await releaseById(t.s.db, school.release))!.funnel).toEqual(before.funnel)
    expect(await join_(t, school, "old-form@post.example")).toEqual({ goTo: `/${inbox!.path}` })
    const next = await publishFunnel(t.s, school.funnel, true)
    expect(next).toMatchObject({ number: 2 })
    expect(await join_(t, school, "old-form2@post.example")).toEqual({ goTo: `/${inbox!.path}` })
    expect(
      await join_(t, { ...school, release: (next as { release: number }).release }, "new-form@post.example"),
    ).toEqual({ goTo: `/${welcome!.path}` })
    await steps.leadOutcome(t.s, { step: optin!.id, outcome: "joined", to: inbox!.id })
    await publishFunnel(t.s, school.funnel)
  })

  it("are refused with something to fix, unless anyway", async () => {
    const funnel = await load()
    const inbox = funnel.steps[1]!
    await steps.leadOutcome(t.s, { step: inbox.id, outcome: "confirmed", to: null })
    expect(await publishFunnel(t.s, school.funnel)).toMatchObject({
      refused: expect.any(String),
      findings: [{ rule: "outcome-leads-nowhere" }],
    })
    expect((await readToday(t.s)).broken[0]!.words).toContain("left standing")
    expect(await publishFunnel(t.s, school.funnel, true)).toMatchObject({ number: 4 })
    await steps.leadOutcome(t.s, { step: inbox.id, outcome: "confirmed", to: funnel.steps[2]!.id })
    expect(await publishFunnel(t.s, school.funnel)).toMatchObject({ number: 5 })
  })

  it("never put two pages at one address, even anyway", async () => {
    const second = ((await newFunnel(t.s, { goal: "mini-course", course: school.course })) as { funnel: number }).funnel
    const optin = (await load(second)).steps[0]!
    await edit.changeStep(t.s, { step: optin.id, name: optin.name, path: "first" })
    expect((await checkFunnel(t.s, await load(second))).map((f) => f.rule)).toContain("address-used-twice")
    expect(await publishFunnel(t.s, second, true)).toMatchObject({ refused: expect.stringContaining("/first") })
    await edit.changeStep(t.s, { step: optin.id, name: optin.name, path: "second" })
    expect(await publishFunnel(t.s, second)).toMatchObject({ number: 1 })
    await unpublishFunnel(t.s, second)
    expect(await t.s.db.rows("SELECT path FROM live_page WHERE funnel_id = ?", [second])).toEqual([])
    await t.s.db.write("DELETE FROM funnel WHERE id = ?", [second])
  })

  it("are numbered once, published by ten at once", async () => {
    const done = await Promise.all(Array.from({ length: 10 }, () => publishFunnel(t.s, school.funnel)))
    expect(new Set(done.map((d) => ("number" in d ? d.number : 0))).size).toBe(10)
  })
})

describe("editing", () => {
  it("refuses a page of a wrong version or shape, or from a window that is behind", async () => {
    const optin = (await load()).steps[0]!
    const { revision } = (await t.s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [optin.id]))!
    expect(await edit.savePage(t.s, optin.id, revision, { version: 9 })).toMatchObject({
      refused: expect.stringContaining("version"),
    })
    expect(await edit.savePage(t.s, optin.id, revision, { version: 1, title: "x", blocks: [{}] })).toMatchObject({
      refused: expect.stringContaining("blocks.0"),
    })
    expect(await edit.savePage(t.s, optin.id, revision - 1, optin.page)).toMatchObject({
      refused: expect.stringContaining("another window"),
    })
    const both = await Promise.all([
      edit.savePage(t.s, optin.id, revision, { ...optin.page, title: "One" }),
      edit.savePage(t.s, optin.id, revision, { ...optin.page, title: "Two" }),
    ])
    expect(both.filter((b) => "revision" in b)).toHaveLength(1)
  })

  it("gives all its pages one form, and takes it off again", async () => {
    const forms = async () => (await load()).steps.flatMap((x) => (x.page ? [[x.page.ground, x.page.width]] : []))
    const optin = (await load()).steps[0]!
    expect(await edit.wearAlike(t.s, optin.id, { ground: "dark", width: "wide" })).toEqual({ ok: true })
    expect(new Set((await forms()).map(String))).toEqual(new Set(["dark,wide"]))
    expect(await edit.wearAlike(t.s, optin.id, { ground: "green" })).toHaveProperty("refused")
    expect(await edit.wearAlike(t.s, 999_999, {})).toHaveProperty("refused")
    await edit.wearAlike(t.s, optin.id, {})
    expect(new Set((await forms()).map(String))).toEqual(new Set([","]))
  })

  it("cleans rich text on the way in", async () => {
    const optin = (await load()).steps[0]!
    const { revision } = (await t.s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [optin.id]))!
    const html = `<p onclick="x()">a<script>alert(1)</script><img src=x onerror=alert(1)><a href="javascript:alert(1)">b</a><span data-word="first-name" data-else="you" style="x">n</span><span data-word="evil">e</span></p><iframe src="//x"></iframe>`
    await edit.savePage(t.s, optin.id, revision, {
      ...optin.page!,
      blocks: [{ id: "t", kind: "text", html }, ...optin.page!.blocks],
    })
    expect((await load()).steps[0]!.page!.blocks[0]).toEqual({
      id: "t",
      kind: "text",
      html: '<p>a<a>b</a><span data-word="first-name" data-else="you">n</span><span>e</span></p>',
    })
  })

  it("changes where outcomes lead and what they set off, inside the funnel only", async () => {
    const funnel = await load()
    const inbox = funnel.steps[1]!
    expect(await steps.leadOutcome(t.s, { step: inbox.id, outcome: "confirmed", to: 99_999 })).toMatchObject({
      refused: expect.any(String),
    })
    expect(await steps.leadOutcome(t.s, { step: inbox.id, outcome: "joined", to: null })).toMatchObject({
      refused: expect.any(String),
    })
    expect(
      await steps.addEffect(t.s, { step: inbox.id, outcome: "confirmed", kind: "tag-on", tag: " crock " }),
    ).toEqual({ ok: true })
    expect(
      await steps.addEffect(t.s, { step: inbox.id, outcome: "confirmed", kind: "tag-on", tag: "crock" }),
    ).toMatchObject({ refused: expect.stringContaining("already") })
    expect(await steps.addEffect(t.s, { step: inbox.id, outcome: "confirmed", kind: "tag-on", tag: "" })).toMatchObject(
      {
        field: "tag",
      },
    )
    expect(
      await steps.addEffect(t.s, { step: inbox.id, outcome: "confirmed", kind: "open-course", course: 99 }),
    ).toMatchObject({ refused: expect.any(String) })
    const added = (await load()).effects.find((e) => e.kind === "tag-on")!
    expect(added.name).toBe("crock")
    expect(await steps.removeEffect(t.s, added.id)).toEqual({ ok: true })
  })

  it.each([
    ["studio", false],
    ["a b", false],
    ["../x", false],
    ["good/one", true],
    ["/good/one/", true],
  ])("takes the address %j: %s", async (path, good) => {
    const welcome = (await load()).steps[2]!
    expect("ok" in (await edit.changeStep(t.s, { step: welcome.id, name: "Welcome", path }))).toBe(good)
  })

  it("keeps mails and settings within bounds", async () => {
    const mail = (await load()).sequences[0]!.mails[0]!
    const fine = {
      mail: mail.id,
      subject: "Hi",
      body: "<p>x</p>",
      button: "Go",
      lesson: null,
      step: null,
    }
    expect(await saveMail(t.s, fine)).toHaveProperty("revision", 2)
    for (const bad of [{ subject: "a\nBcc: x" }, { subject: "x".repeat(201) }])
      expect(await saveMail(t.s, { ...fine, ...bad })).toMatchObject({ refused: expect.any(String) })
    const settings = {
      name: "J",
      senderName: "M",
      senderEmail: "m@x.example",
      postalAddress: "",
      zone: "Europe/Oslo",
      currency: "NOK",
      taxRate: 2500,
      taxIncluded: false,
      statement: "SALT & BRINE",
      front: null,
    }
    expect(await saveSchool(t.s, settings)).toHaveProperty("revision", 2)
    for (const bad of [
      { zone: "Mars/Olympus" },
      { senderName: "M\r\nBcc: x" },
      { senderEmail: "x" },
      { name: "" },
      { currency: "XXX" },
      { taxRate: 10_001 },
      { taxRate: -1 },
      { taxRate: 12.5 },
      { statement: "Gärtopf" },
      { statement: "x".repeat(23) },
      { statement: "1234 5678" },
    ])
      expect(await saveSchool(t.s, { ...settings, ...bad })).toMatchObject({ refused: expect.any(String) })
  })

  it("refuses a lesson without a title", async () => {
    const [first] = (await course.readCourse(t.s.db, school.course))!.lessons
    expect(await course.saveLesson(t.s, { lesson: first!.id, title: "" })).toMatchObject({ field: "title" })
  })
})

describe("the river's numbers", () => {
  it("are the same whether facts are rolled up or not, in any order, and every step adds up", async () => {
    const funnel = await load()
    const [optin, inbox, welcome, learning] = funnel.steps.map((s) => s.id) as [number, number, number, number]
    const range = { from: t.at() - 86_400_000, to: t.at() + 86_400_000 }
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 4 }), fc.constantFrom("letter", "search"), fc.boolean()), {
          minLength: 1,
          maxLength: 12,
        }),
        fc.nat(3),
        async (people, when) => {
          const before = await readRiver(t.s, funnel, range)
          for (const [i, [far, source, mail]] of people.entries()) {
            const visitor = someVisitor()
            await recordNewcomers(t.s.db, [{ funnel: funnel.id, step: optin, visitor, source, at: t.at() }])
            await recordNewcomers(t.s.db, [{ funnel: funnel.id, step: optin, visitor, source, at: t.at() }])
            const go = (step: number, outcome: string, via: "page" | "mail") =>
              t.s.db.transaction((tx) => arrive(tx, { funnel: funnel.id, visitor, step, outcome, via, at: t.at() }))
            if (far > 1) await go(inbox, "joined", "page")
            if (far > 2) await go(welcome, "confirmed", "page")
            if (far > 3) await go(learning, "started", mail ? "mail" : "page")
            if (far > 1) await go(inbox, "joined", "page") // seen again: counted once
            if (i === when) await rollUp(t.s)
          }
          const fresh = await readRiver(t.s, funnel, range)
          expect(fresh.steps[0]!.in - before.steps[0]!.in).toBe(people.length)
          expect(fresh.steps[3]!.in - before.steps[3]!.in).toBe(people.filter((p) => p[0] === 4).length)
          while ((await rollUp(t.s)) > 0);
          expect(await rollUp(t.s)).toBe(0)
          expect(await readRiver(t.s, funnel, range)).toEqual(fresh)
          for (const s of fresh.steps) {
            expect(s.in).toBe(s.on + s.here + s.left)
            const into =
              fresh.streams.filter((w) => w.to === s.id).reduce((n, w) => n + w.n, 0) +
              s.sources.reduce((n, x) => n + x.n, 0)
            expect(into).toBe(s.in)
          }
        },
      ),
      { seed: 10, numRuns: 8 },
    )
  })

  it("count what isn't in the sums yet, and tell here from left by seven days", async () => {
    const funnel = await load()
    const range = { from: t.at() - 86_400_000, to: t.at() + 86_400_000 }
    await recordNewcomers(t.s.db, [
      { funnel: funnel.id, step: funnel.steps[0]!.id, visitor: someVisitor(), source: "late", at: t.at() },
    ])
    const now = (await readRiver(t.s, funnel, range)).steps[0]!
    expect(now.sources).toContainEqual({ name: "late", n: 1 })
    expect(await rollUp(t.s)).toBe(1)
    expect((await readRiver(t.s, funnel, range)).steps[0]).toEqual(now)
    expect(now.left).toBe(0)
    t.set(t.at() + 8 * 86_400_000)
    expect((await readRiver(t.s, funnel, range)).steps[0]).toMatchObject({ in: now.in, here: 0, left: now.here })
  })
})
