// What was stored before kinds were modules (tests/fixtures/before-kinds.json) still answers, sells, takes an opt-in, runs, and
// is taken back; and a database from before is brought up to date.
import { readFileSync } from "node:fs"
import { readdir, readFile } from "node:fs/promises"
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest"
import { chargeAt } from "@/core/offer/plan"
import { readPlan } from "@/core/offer/plan-document"
import { readPage } from "@/core/page/document"
import { type FrontServer, frontServer } from "@/front/server"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { undo } from "@/server/funnel/change"
import { loadFunnel } from "@/server/funnel/load"
import { isChanged } from "@/server/funnel/release"
import { sendDue } from "@/server/mail/send"
import { usesOf } from "@/server/reference"
import { releaseById } from "@/server/releases"
import { upgrade } from "@/server/upgrade"
import { buy, type Shop } from "../support/shop"
import { openWalkedDemo, type WalkedDemo } from "../support/walk"

type StepRow = Record<string, string | number | null> & { id: number }
const kept: {
  releases: { id: number; funnel_id: number; number: number; snapshot: string; pages: string }[]
  plans: { offer_id: number; plan: string }[]
  steps: StepRow[]
  before: { id: number; funnel_id: number; at: string; what: string; structure: string }[]
} = JSON.parse(readFileSync("tests/fixtures/before-kinds.json", "utf8"))

let demo: WalkedDemo
let web: FrontServer
let origin: string
beforeAll(async () => {
  demo = await openWalkedDemo("before", 60)
  const { db, releases } = demo.t.s
  for (const r of kept.releases)
    await db.write("UPDATE `release` SET snapshot = ?, pages = ? WHERE id = ?", [r.snapshot, r.pages, r.id])
  releases.forget()
  web = frontServer(demo.t.s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((done) => web.server.listen(0, "127.0.0.1", () => done()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await demo.end()
})

describe("a release from before", () => {
  it("answers, in each of its pages", async () => {
    for (const r of kept.releases)
      for (const page of JSON.parse(r.pages) as { path: string }[]) {
        const res = await fetch(`${origin}/${page.path}`, { redirect: "manual" })
        expect([200, 303]).toContain(res.status)
      }
    expect(await (await fetch(`${origin}/a-year`)).text()).toContain("A Year in Ferments")
  })

  it("is what its draft still is, though that is written otherwise now", async () => {
    for (const r of kept.releases) {
      const { db } = demo.t.s
      const release = (await releaseById(db, r.id))!
      // Its pages stand in the tables as they were written then, and are read from there.
      for (const step of (JSON.parse(r.snapshot) as { steps: { id: number; page: object | null }[] }).steps)
        await db.write("UPDATE step SET page = ? WHERE id = ?", [step.page && JSON.stringify(step.page), step.id])
      const draft = (await loadFunnel(db, r.funnel_id))!
      expect(draft.steps).toEqual(release.funnel.steps)
      expect(await isChanged(db, { ...draft, courses: release.funnel.courses })).toBe(false)
    }
  })

  it("takes an opt-in", async () => {
    const body = new URLSearchParams({ release: "1", email: "old@post.example", name: "Ines", zone: "Europe/Oslo" })
    const res = await fetch(`${origin}/first-crock`, { method: "POST", redirect: "manual", body })
    expect([res.status, res.headers.get("location")]).toEqual([303, "/first-crock/check-your-inbox"])
    await sendDue(demo.t.s, "w")
    expect(demo.t.sent.at(-1)!.subject).toContain("The First Crock")
  })

  it("sells, and leads on to its further offer", async () => {
    const shop = { t: demo.t, processor: demo.processor, release: 2 } as unknown as Shop
    const { order } = await buy(shop, "fine")
    expect(order.state).toBe("paid")
    const next = await demo.t.s.db.row(
      "SELECT t.path FROM journey j JOIN step t ON t.id = j.rest_step_id WHERE visitor = ?",
      [order.visitor],
    )
    expect(next).toEqual({ path: "a-year/one-more-thing" })
  })
})

describe("documents from before", () => {
  it("are read: plans, which say the same charges, and pages", () => {
    for (const { plan } of kept.plans) {
      expect(readPlan(plan)).toEqual(JSON.parse(plan))
      expect(() => chargeAt(readPlan(plan), 1)).not.toThrow()
    }
    expect(() => readPlan('{"version":2}')).toThrow("version 2")
    for (const s of kept.steps) if (s.page) expect(readPage(JSON.parse(String(s.page)))).toBeTruthy()
  })

  it("are what a change can be taken back to", async () => {
    const { s } = demo.t
    const was = kept.before[0]!
    await s.db.write("INSERT INTO funnel_before (id, funnel_id, at, what, structure) VALUES (?, ?, ?, ?, ?)", [
      900,
      was.funnel_id,
      new Date(was.at),
      was.what,
      was.structure,
    ])
    const before = (await loadFunnel(s.db, was.funnel_id))!
    const last = before.steps.filter((x) => x.kind === "further").at(-1)!
    await s.db.write("UPDATE step SET settings = '{}' WHERE id = ?", [last.id])
    expect(await undo(s, was.funnel_id, 900)).toEqual({ ok: true })
    expect(await loadFunnel(s.db, was.funnel_id)).toEqual(before)
  })
})

describe("a database from before", () => {
  it("is brought up to date: steps and effects keep what they were set to, and what refers to what is written", async () => {
    const root = new URL(inject("databaseUrl"))
    const admin = openDatabase(root.href, 1)
    await admin.write("DROP DATABASE IF EXISTS heron_from_before")
    await admin.write("CREATE DATABASE heron_from_before CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci")
    await admin.end()
    root.pathname = "/heron_from_before"
    const db = openDatabase(root.href, 1)
    await db.write(
      "CREATE TABLE migration (name VARCHAR(80) NOT NULL PRIMARY KEY, at DATETIME(3) NOT NULL) CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci",
    )
    const files = (await readdir("db/migrations")).filter((f) => f.endsWith(".sql") && f < "009").sort()
    for (const file of files) {
      const sql = (await readFile(`db/migrations/${file}`, "utf8")).replace(/^--.*$/gm, "")
      for (const statement of sql.split(/;\s*$/m)) if (statement.trim()) await db.write(statement)
      await db.write("INSERT INTO migration (name, at) VALUES (?, NOW())", [file])
    }
    await db.write("SET SESSION foreign_key_checks = 0")
    const at = new Date("2026-01-01")
    for (const f of [1, 2])
      await db.write("INSERT INTO funnel (id, name, goal, made_at, changed_at) VALUES (?, 'F', 'mini-course', ?, ?)", [
        f,
        at,
        at,
      ])
    for (const c of [1, 2, 3, 4, 5])
      await db.write("INSERT INTO course (id, slug, title, made_at, changed_at) VALUES (?, ?, 'C', ?, ?)", [
        c,
        `c${c}`,
        at,
        at,
      ])
    for (const o of [1, 2, 3, 4, 5, 6])
      await db.write(
        "INSERT INTO offer (id, public_name, currency, made_at, changed_at) VALUES (?, 'O', 'EUR', ?, ?)",
        [o, at, at],
      )
    for (const row of kept.steps)
      await db.write(`INSERT INTO step (${Object.keys(row).join(", ")}) VALUES (?)`, [Object.values(row)])
    await db.write("INSERT INTO sequence (id, funnel_id, name, leave_line) VALUES (1, 1, 'Q', '')")
    await db.write("INSERT INTO tag (id, name) VALUES (1, 'brave')")
    const [first] = kept.steps
    await db.write(
      "INSERT INTO effect (step_id, outcome, kind, tag_id, sequence_id, course_id) VALUES (?, 'joined', 'tag-on', 1, NULL, NULL), (?, 'joined', 'begin-sequence', NULL, 1, NULL), (?, 'joined', 'open-course', NULL, NULL, 1)",
      [first!.id, first!.id, first!.id],
    )
    await db.write("SET SESSION foreign_key_checks = 1")
    await upgrade(db, await migrate(db))
    const sale = (await loadFunnel(db, 2))!
    for (const s of sale.steps) {
      const row = kept.steps.find((r) => r.id === s.id)!
      const settings = s.settings as Record<string, unknown>
      expect([settings.course ?? null, settings.offer ?? null]).toEqual([row.course_id, row.offer_id])
      if ("skipAs" in settings)
        expect(settings).toEqual({
          offer: row.offer_id,
          terms: row.terms_id,
          replaces: Boolean(row.replaces),
          skipAs: row.skip_as,
        })
    }
    expect((await loadFunnel(db, 1))!.effects.map((e) => [e.kind, e.name])).toEqual([
      ["tag-on", "brave"],
      ["begin-sequence", "Q"],
      ["open-course", "C"],
    ])
    const main = kept.steps.find((r) => r.kind === "checkout")!.offer_id
    expect((await usesOf(db, "offer", Number(main))).map((u) => u.use)).toContain("sells it")
    await db.end()
  })
})
