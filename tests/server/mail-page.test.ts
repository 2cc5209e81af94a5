// E-mails as pages of blocks: written, merged, kept as they were, put live, and followed by their links.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import type { Block, Page } from "@/core/page/document"
import { planBroadcast } from "@/server/broadcast/plan"
import { newBroadcast, readBroadcast, saveBroadcast, saveBroadcastPage } from "@/server/broadcast/store"
import { addressOfLink, followLink } from "@/server/mail/click"
import { checkTyped, type LetterTyped, previewFor } from "@/server/mail/try-letter"
import { mayFetch, storeMedia } from "@/server/media/store"
import { lookIn } from "@/server/page/open"
import { versionBefore, versionsOf } from "@/server/page/version"
import { usesOf } from "@/server/reference"
import { versionById } from "@/server/releases"
import { addLetter, copySequenceStep, newSequence, saveMail, saveSequence } from "@/server/sequence/edit"
import { isSequenceChanged, putLive } from "@/server/sequence/live"
import { saveSequenceMailPage } from "@/server/sequence/mail-page"
import { loadSequence } from "@/server/sequence/store"
import { sign } from "@/server/sign"
import { openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let sequence: number
let mail: number
let course: number

beforeAll(async () => {
  t = await testSchool("mail_page")
  await openSchool(t)
  const made = await newSequence(t.s, "Crocks")
  if ("refused" in made) throw new Error(made.refused)
  sequence = made.id
  const letter = await addLetter(t.s, sequence)
  if ("refused" in letter) throw new Error(letter.refused)
  mail = letter.id
  await saveMail(t.s, { ...typed(), mail })
  const flow = { goal: null, steps: [{ id: 1, kind: "send", mail }] }
  expect(await saveSequence(t.s, sequence, { flow })).toHaveProperty("revision")
  course = (await t.s.db.row<{ id: number }>("SELECT MIN(id) AS id FROM course"))!.id
})
afterAll(() => t.end())

const typed = () => ({
  subject: "Salt",
  preview: "",
  body: "<p>Hello <em>there</em></p>",
  plain: "",
  button: "",
  lesson: null,
  step: null,
})
const letter = (more: Partial<LetterTyped> = {}): LetterTyped => ({ ...typed(), of: { mail }, ...more })
const row = () =>
  t.s.db.row<{ page: string | null; body: string; revision: number }>(
    "SELECT page, body, revision FROM sequence_mail WHERE id = ?",
    [mail],
  )
const revision = async () => (await row())!.revision
const page = (...blocks: Block[]): Page => ({ version: 1, title: "E-mail", blocks })
const text = (id: string, html: string): Block => ({ id, kind: "text", html })
const write = async (p: Page, base?: Page, from?: number) =>
  saveSequenceMailPage(t.s, mail, from ?? (await revision()), p, base)

describe("an e-mail of a sequence", () => {
  it("stays a text as long as it is nothing else", async () => {
    expect(await write(page(text("text", '<p onclick="x()">Hello <b>you</b></p>')))).toHaveProperty("revision")
    expect(await row()).toMatchObject({ page: null, body: "<p>Hello <b>you</b></p>" })
  })

  it("is a page, whose body is made of it alone", async () => {
    const written = page(text("text", "<p>Hello</p>"), { id: "l", kind: "lessons", course })
    expect(await write(written)).toHaveProperty("revision")
    const kept = (await row())!
    expect(kept.body).toMatch(/^<p>Hello<\/p><div><ol><li dir="auto">/)
    expect(await saveMail(t.s, { ...typed(), mail, subject: "Salt again", body: "<p>Overwritten</p>" })).toMatchObject({
      value: { subject: "Salt again", body: kept.body },
    })
    expect((await row())!.body).toBe(kept.body)
  })

  it("carries nothing that a mail can't, and nothing that runs", async () => {
    const form = { id: "f", kind: "quiz" } as unknown as Block
    expect(await write(page(form))).toHaveProperty("refused")
    expect(await write(page({ id: "v", kind: "divider" }, { id: "p", kind: "proof" } as Block))).toHaveProperty(
      "refused",
    )
    const hostile = page(text("text", '<p>Hi<script>alert(1)</script><a href="javascript:x">y</a></p>'))
    await write(hostile)
    expect((await row())!.body).not.toMatch(/script/)
    const away = { id: "b", kind: "button", says: "x", leads: { to: "link", href: "javascript:alert(1)" } } as Block
    expect(await write(page(away))).toHaveProperty("refused")
  })

  it("merges what two windows write, and tells what both changed", async () => {
    const base = page(text("text", "<p>One</p>"), text("b", "<p>Two</p>"))
    await write(base)
    const from = await revision()
    expect(await write(page(text("text", "<p>One, mine</p>"), base.blocks[1]!), base, from)).toHaveProperty("revision")
    const second = await write(page(base.blocks[0]!, text("b", "<p>Two, theirs</p>")), base, from)
    expect(second).toMatchObject({ page: page(text("text", "<p>One, mine</p>"), text("b", "<p>Two, theirs</p>")) })
    expect(await write(page(text("text", "<p>One, other</p>"), base.blocks[1]!), base, from)).toMatchObject({
      clash: ["text"],
    })
  })

  it("keeps its versions, and tells a window what another has saved", async () => {
    expect((await versionsOf(t.s.db, { mail })).length).toBeGreaterThan(0)
    const first = await versionBefore(t.s.db, { mail }, null, page())
    expect(first).toMatchObject({ page: { version: 1 } })
    const account = { ...t.s, actor: { is: "account" as const, id: 1, name: "Maren" } }
    const window = "7b0f0c56-6d6f-4a58-9df5-2b1f4bcb0f0e"
    expect(await lookIn(account, { mail }, window, 1)).toMatchObject({ now: { revision: await revision() } })
    expect(await lookIn(account, { mail }, window, await revision())).toMatchObject({ now: null })
  })

  it("says what it uses, and what it leaves to be said", async () => {
    await write(page(text("text", '<p><a href="lesson:999999">Gone</a></p>'), { id: "l", kind: "lessons", course }))
    expect((await usesOf(t.s.db, "course", course)).map((u) => u.use)).toContain("lists its lessons")
    const found = await checkTyped(t.s, letter())
    expect(found).toContainEqual({ rule: "dead-links", stops: true, data: 1 })
    expect(await putLive(t.s, sequence)).toEqual({ refused: "A link or button in “Salt again” leads nowhere." })
    await write(page(text("text", "<p>Hi</p>"), { id: "p", kind: "picture", media: null, alt: "" }))
    expect(await checkTyped(t.s, letter())).toContainEqual({
      rule: "gap",
      stops: false,
      data: "a picture on it is missing",
    })
  })

  it("goes live as what it speaks of is then, and leads where things are then", async () => {
    const step = (await t.s.db.row<{ id: number; path: string }>("SELECT id, path FROM step WHERE page IS NOT NULL"))!
    const leads = { to: "link", href: `course:${course}` } as const
    await write(
      page(
        text("text", `<p><a href="step:${step.id}">Here</a></p>`),
        { id: "l", kind: "lessons", course },
        { id: "b", kind: "button", says: "Look", leads },
      ),
    )
    expect(await putLive(t.s, sequence)).toEqual({ ok: true })
    const q = (await loadSequence(t.s.db, sequence))!
    expect(await isSequenceChanged(t.s.db, q)).toBe(false)
    await t.s.db.write("UPDATE lesson SET title = CONCAT(title, ' anew') WHERE course_id = ?", [course])
    expect(await isSequenceChanged(t.s.db, q)).toBe(true)
    await putLive(t.s, sequence)
    const live = (await loadSequence(t.s.db, sequence))!
    const version = await versionById(t.s.db, live.version!)
    expect(version!.document.mails[0]!.body).toContain("Lesson 1 anew ")
    // Its address is looked up when it is followed.
    const { slug } = (await t.s.db.row<{ slug: string }>("SELECT slug FROM course WHERE id = ?", [course]))!
    expect(await addressOfLink(t.s.db, leads.href)).toBe(`/learn/${slug}`)
    await t.s.db.write("UPDATE course SET slug = 'moved' WHERE id = ?", [course])
    expect(await addressOfLink(t.s.db, leads.href)).toBe("/learn/moved")
    expect(await addressOfLink(t.s.db, "https://x.example/")).toBe("https://x.example/")
    expect(await addressOfLink(t.s.db, "#")).toBeNull()
    const preview = await previewFor(t.s, letter(), "")
    expect(preview).toHaveProperty("html")
    expect("html" in preview && preview.html).toContain(`href="${t.s.config.origin}/learn/moved"`)
  })

  it("opens a file to whoever follows its link", async () => {
    const stored = await storeMedia(t.s, "file", "chart.txt", Buffer.from("WEBVTT\n\n00:00.000 --> 00:01.000\nSalt\n"))
    if ("refused" in stored) throw new Error(stored.refused)
    const made = await newBroadcast(t.s, "The chart")
    if ("refused" in made) throw new Error(made.refused)
    const link = text("text", `<p><a href="file:${stored.id}">The chart</a></p>`)
    expect(await saveBroadcastPage(t.s, made.id, 1, page(link, { id: "d", kind: "divider" }))).toHaveProperty(
      "revision",
    )
    const person = await t.s.db.insert("person", {
      email: "ann@x.example",
      name: "Ann",
      zone: "UTC",
      joined_at: new Date(0),
    })
    const sent = await t.s.db.insert("mail", {
      once: "a file",
      kind: "broadcast",
      person_id: person.id,
      to_email: "ann@x.example",
      to_name: "Ann",
      goes: "usual",
      broadcast_id: made.id,
      state: "sent",
      due_at: new Date(0),
      try_at: new Date(0),
    })
    const followed = await followLink(t.s, sign(t.s.config.secret, "click", `${sent.id}-1`))
    const { pathname, searchParams } = new URL(followed!.to, "https://x.example")
    expect(pathname).toBe(`/media/${stored.stored}`)
    expect(mayFetch(t.s.config, stored.stored, searchParams.get("key")!, Date.now())).toBe(true)
    // The key is theirs, and stands in no journal.
    const fact = await t.s.db.row<{ words: string }>("SELECT words FROM fact WHERE kind = 'clicked'")
    expect(fact!.words).toBe(pathname)
  })

  it("is copied as a page", async () => {
    expect(await copySequenceStep(t.s, { sequence, step: 1 }, sequence)).toHaveProperty("ok")
    const pages = await t.s.db.rows<{ page: string | null }>("SELECT page FROM sequence_mail WHERE sequence_id = ?", [
      sequence,
    ])
    expect(pages.map((p) => p.page)).toEqual([pages[0]!.page, pages[0]!.page])
    expect(pages[0]!.page).not.toBeNull()
  })
})

describe("a broadcast", () => {
  it("is a page until it is planned", async () => {
    const made = await newBroadcast(t.s, "December")
    if ("refused" in made) throw new Error(made.refused)
    const kept = async () => (await readBroadcast(t.s.db, made.id))!
    const written = page(text("text", "<p>Hello</p>"), { id: "h", kind: "headline", text: "Salt" })
    expect(await saveBroadcastPage(t.s, made.id, (await kept()).revision, written)).toHaveProperty("revision")
    const b = await kept()
    expect(b.document.body).toBe('<p>Hello</p><h2 dir="auto">Salt</h2>')
    // A text that is long and full of quotes is told to another window as it stands.
    const long = `<p>${'“Salt” \\ &amp; "brine" é🥬 '.repeat(1500)}</p>`
    const other = await newBroadcast(t.s, "Long")
    if ("refused" in other) throw new Error(other.refused)
    await saveBroadcastPage(t.s, other.id, 1, page(text("text", long)))
    const window = "7b0f0c56-6d6f-4a58-9df5-2b1f4bcb0f0e"
    const account = { ...t.s, actor: { is: "account" as const, id: 1, name: "Maren" } }
    const told = (await lookIn(account, { broadcast: other.id }, window, 1))!.now!
    expect(told.page.blocks).toEqual([text("text", (await readBroadcast(t.s.db, other.id))!.document.body)])
    expect(JSON.stringify(told.page).length).toBeGreaterThan(30_000)
    const document = { ...b.document, subjects: ["Salt"], body: "<p>Overwritten</p>" }
    expect(await saveBroadcast(t.s, made.id, { document })).toHaveProperty("revision")
    expect((await kept()).document).toMatchObject({ subjects: ["Salt"], body: b.document.body })
    expect(await checkTyped(t.s, letter({ of: { broadcast: made.id }, body: "" }))).not.toContainEqual(
      expect.objectContaining({ rule: "no-text" }),
    )
    const planned = await planBroadcast(t.s, made.id)
    // Nobody is there to get it.
    expect(planned).toHaveProperty("refused")
    await t.s.db.write("UPDATE broadcast SET state = 'planned' WHERE id = ?", [made.id])
    expect(await saveBroadcastPage(t.s, made.id, (await kept()).revision, page(text("text", "<p>x</p>")))).toEqual({
      refused: "It is planned already, and can’t be changed any more.",
    })
  })
})
