// Pages as they were: one version for each burst of writing; named ones stay, of the others fewer are kept the older they are.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { lessonPage } from "@/core/page/lesson"
import { saveLessonPage } from "@/server/course/lesson-page"
import { sweep } from "@/server/due-list"
import { savePage } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { lookIn } from "@/server/page/open"
import { nameVersion, type PageOf, readVersion, versionBefore, versionsOf } from "@/server/page/version"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
let step: number
let of: PageOf
const start = Date.parse("2026-11-24T09:00:00Z")
const [minute, day] = [60_000, 86_400_000]
const at = (ms: number) => t.set(new Date(start + ms).toISOString())

beforeAll(async () => {
  t = await testSchool("page-version")
  school = await openSchool(t)
  step = (await loadFunnel(t.s.db, school.funnel))!.steps.find((s) => s.kind === "optin")!.id
  of = { step }
})
afterAll(() => t.end())

const stored = async () => (await loadFunnel(t.s.db, school.funnel))!.steps.find((s) => s.id === step)!.page!
async function write(title: string, ms: number) {
  at(ms)
  const { revision } = (await t.s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [step]))!
  expect(await savePage(t.s, step, revision, { ...(await stored()), title })).toHaveProperty("revision")
}
const titles = async () =>
  Promise.all(
    (await versionsOf(t.s.db, of)).map(async (x) => {
      const read = await readVersion(t.s.db, of, x.id)
      return "page" in read ? read.page.title : read.refused
    }),
  )

describe("versions of a page", () => {
  it("begin with what stood before the first change; what is written without a pause is one", async () => {
    const first = (await stored()).title
    await write("A", 0)
    await write("Ab", 5_000)
    await write("Abc", 15_000)
    expect(await titles()).toEqual(["Abc", first])
    await write("Next", minute)
    // Saved again, and nothing is different.
    await write("Next", 2 * minute)
    expect(await titles()).toEqual(["Next", "Abc", first])
    // Somebody who doesn't stop for an hour has a version every three minutes.
    for (let s = 0; s < 3_600; s += 15) await write(`On ${s}`, 5 * minute + s * 1_000)
    const many = (await versionsOf(t.s.db, of)).length
    expect(many).toBeGreaterThan(18)
    expect(many).toBeLessThan(26)
  }, 60_000)

  it("are gone back through one by one, from whatever stands there now", async () => {
    const all = await titles()
    let [before, now] = [null as number | null, await stored()]
    const met: string[] = []
    const one = async () => {
      const found = await versionBefore(t.s.db, of, before, now)
      if (found && "refused" in found) throw new Error(found.refused)
      return found
    }
    for (let v = await one(); v; v = await one()) {
      met.push(v.page.title)
      before = v.id
      now = v.page
    }
    expect(met).toEqual(all.slice(1))
  })

  it("of a form that is known later only are refused in words", async () => {
    const [latest] = await versionsOf(t.s.db, of)
    const later = JSON.stringify({ ...(await stored()), version: 9 })
    const { id } = await t.s.db.insert("page_version", {
      step_id: step,
      began_at: latest!.at,
      at: latest!.at,
      page: later,
    })
    const refused = {
      refused: "That version can’t be brought back: this page is of version 9; version 1 is understood.",
    }
    expect(await readVersion(t.s.db, of, id)).toEqual(refused)
    expect(await versionBefore(t.s.db, of, null, await stored())).toEqual(refused)
    await t.s.db.write("DELETE FROM page_version WHERE id = ?", [id])
  })

  it("are one page's only", async () => {
    const [latest] = await versionsOf(t.s.db, of)
    expect(await readVersion(t.s.db, { step: step + 1 }, latest!.id)).toHaveProperty("refused")
    expect(await nameVersion(t.s, { lesson: 1 }, latest!.id, "Mine")).toHaveProperty("refused")
    expect(await nameVersion(t.s, of, latest!.id, "x".repeat(81))).toHaveProperty("refused")
  })

  it("of a clock that was set back go on after the others", async () => {
    await write("Earlier", -30 * day)
    expect((await titles())[0]).toBe("Earlier")
  })

  it("of a later form than is understood are refused in words", async () => {
    const [latest] = await versionsOf(t.s.db, of)
    await t.s.db.write("UPDATE page_version SET page = ? WHERE id = ?", [
      '{"version":9,"title":"x","blocks":[]}',
      latest!.id,
    ])
    expect(await readVersion(t.s.db, of, latest!.id)).toEqual({ refused: expect.stringMatching(/version 9/) })
    await t.s.db.write("DELETE FROM page_version WHERE id = ?", [latest!.id])
  })

  it("are thinned out with age, those with a name never", async () => {
    const before = await versionsOf(t.s.db, of)
    const named = before[7]!
    expect(await nameVersion(t.s, of, named.id, " Before the launch ")).toEqual({ ok: true })
    const left = async (days: number) => {
      at(days * day)
      await sweep(t.s)
      return versionsOf(t.s.db, of)
    }
    expect(await left(0.5)).toHaveLength(before.length)
    const [aDay, aWeek, later] = [await left(2), await left(8), await left(61)]
    for (const kept of [aDay, aWeek, later]) expect(kept.find((v) => v.id === named.id)?.name).toBe("Before the launch")
    // An hour's writing: one of ten minutes, one of an hour, one of a day; the last of each.
    expect(aDay.length).toBeGreaterThan(6)
    expect(aDay.length).toBeLessThan(10)
    expect(aWeek.length).toBeLessThan(5)
    expect(later.map((v) => v.id)).toEqual([before[0]!.id, named.id])
    expect(await nameVersion(t.s, of, named.id, "")).toEqual({ ok: true })
    expect((await left(61)).map((v) => v.id)).toEqual([before[0]!.id])
  })

  it("are kept of lessons as well, and go with them", async () => {
    at(0)
    const { id } = (await t.s.db.row<{ id: number }>("SELECT id FROM lesson LIMIT 1"))!
    const row = (await t.s.db.row<Parameters<typeof lessonPage>[0] & { page_revision: number }>(
      "SELECT * FROM lesson WHERE id = ?",
      [id],
    ))!
    const page = lessonPage(row)
    await saveLessonPage(t.s, id, row.page_revision, {
      ...page,
      blocks: [...page.blocks, { id: "zz", kind: "headline", text: "More" }],
    })
    const all = await versionsOf(t.s.db, { lesson: id })
    expect(all).toHaveLength(2)
    expect(await readVersion(t.s.db, { lesson: id }, all[1]!.id)).toEqual({ page })
  })
})

describe("a page that several have open", () => {
  const [mine, theirs, other] = ["1", "2", "3"].map((n) => `0000000${n}-0000-4000-8000-000000000000`) as [
    string,
    string,
    string,
  ]
  it("knows who else, since when, and what has become of it", async () => {
    at(0)
    const maren = { ...t.s, actor: { is: "account" as const, id: 1 } }
    await t.s.db.write(
      "INSERT INTO account (id, email, name, password_hash, made_at) VALUES (77, 'ida@crock.example', 'Ida', '', NOW())",
    )
    const ida = { ...t.s, actor: { is: "account" as const, id: 77 } }
    const revision = async () =>
      (await t.s.db.row<{ revision: number }>("SELECT revision FROM step WHERE id = ?", [step]))!.revision
    expect(await lookIn(maren, of, mine, await revision())).toEqual({ others: [], now: null })
    at(minute)
    expect(await lookIn(ida, of, theirs, await revision())).toEqual({
      others: [{ who: expect.any(String), me: false, since: new Date(start) }],
      now: null,
    })
    at(2 * minute)
    await lookIn(maren, of, other, await revision())
    const known = await revision()
    await write("By another", 2 * minute)
    expect(await lookIn(maren, of, mine, known)).toMatchObject({
      others: [
        { who: "Ida", me: false, since: new Date(start + minute) },
        { me: true, since: new Date(start + 2 * minute) },
      ],
      now: { revision: known + 1, page: { title: "By another" } },
    })
    // A window that is closed says nothing any more.
    await t.s.db.write("UPDATE page_open SET seen_at = seen_at - INTERVAL 7 SECOND WHERE window_id <> ?", [mine])
    expect((await lookIn(maren, of, mine, known + 1))!.others).toEqual([])
    expect(await lookIn(maren, { lesson: 1 }, mine, 1)).toMatchObject({ others: [] })
  })
  it("says nothing to whoever isn't in the studio, of no window, or of what is gone", async () => {
    const maren = { ...t.s, actor: { is: "account" as const, id: 1 } }
    expect(await lookIn({ ...t.s, actor: { is: "nobody" } }, of, mine, 1)).toBeNull()
    expect(await lookIn(maren, of, "x' OR 1", 1)).toBeNull()
    expect(await lookIn(maren, { step: 999_999 }, mine, 1)).toBeNull()
  })
})
