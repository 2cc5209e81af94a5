// An e-mail being written: what its personal words say to whom, its pictures, its plain text, what is to be seen to, and a test of it.
import { mkdir } from "node:fs/promises"
import { join } from "node:path"
import sharp from "sharp"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { plainly } from "@/core/look/look"
import { richChip } from "@/core/mail/chip"
import { planBroadcast } from "@/server/broadcast/plan"
import { newBroadcast, readBroadcast, saveBroadcast } from "@/server/broadcast/store"
import { confirmJoin } from "@/server/funnel/confirm"
import { saveLook } from "@/server/look"
import { sendDue } from "@/server/mail/send"
import { checkTyped, plainTyped, previewFor, testLetter } from "@/server/mail/try-letter"
import { findMedia } from "@/server/media/store"
import { listFields, newField, renameField, setField, usesOfField } from "@/server/person/field"
import { usesOf } from "@/server/reference"
import { readSchool } from "@/server/school"
import { addLetter, newSequence, saveMail } from "@/server/sequence/edit"
import { join_, lastTo, linkId, openSchool, type TestSchool, testSchool, thatTuesday } from "../support/school"
import { offer, saved } from "../support/shop"

let t: TestSchool
let year: number
let jars: number
let picture: number
const stored = "0123456789abcdef01234567.webp"

beforeAll(async () => {
  t = await testSchool("writing", { start: thatTuesday })
  const school = await openSchool(t)
  year = await saved(
    t,
    offer("A Year in Ferments", [{ kind: "full", amount: 24900 }], {
      until: Date.parse("2026-12-06T23:59:00Z"),
    }),
  )
  const field = await newField(t.s, { label: "Jars at home", kind: "text" })
  if ("refused" in field) throw new Error(field.refused)
  jars = field.id
  picture = (
    await t.s.db.write(
      "INSERT INTO media (kind, stored, name, type, size, width, height, made_at) VALUES ('picture', ?, 'Jar', 'image/webp', 10, 1120, 700, NOW())",
      [stored],
    )
  ).id
  for (const [email, name, zone] of [
    ["ann@post.example", "Ann", "America/Lima"],
    ["bob@post.example", "Bob", "Europe/Oslo"],
  ] as const) {
    await join_(t, school, email, { name, zone })
    await sendDue(t.s, "w")
    await confirmJoin(t.s, linkId(t, lastTo(t, email), "confirm"), { ip: "" })
  }
  await setField(t.s, await idOf("ann@post.example"), jars, "<b>two</b> & a\nhalf")
})
afterAll(() => t.end())

const idOf = async (email: string) =>
  (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))!.id

const letter = () => ({
  subject: "‹Jars at home, else some› jars, ‹first name, else friend›",
  preview: "For ‹first name, else you›",
  body:
    `<p>You have ${richChip(`field-${jars}`, "a few")} jars. ${richChip(`offer-${year}`, "It")}: ${richChip(`price-${year}`, "see there")}` +
    ` Until ${richChip(`until-${year}`, "soon")}. We meet on ${richChip("moment-2026-12-03T19:00", "")}.</p><img data-media="${picture}" alt="A jar" onerror="x">`,
  plain: "",
  button: "",
  lesson: null,
  step: null,
})
const seen = async (whom: string, more: object = {}) => {
  const came = await previewFor(t.s, { ...letter(), ...more }, whom)
  if ("refused" in came) throw new Error(came.refused)
  return came
}

describe("a preview", () => {
  it("says to a person what they get, in their zone, and nothing they typed is markup", async () => {
    const mail = await seen("ann@post.example")
    expect(mail.subject).toBe("<b>two</b> & a half jars, Ann")
    expect(mail.html).toContain(
      "You have &lt;b&gt;two&lt;/b&gt; &amp; a half jars. A Year in Ferments: You pay €249.00 today.",
    )
    expect(mail.html).toContain("Until Sunday 6 December at 18:59 (Lima time).")
    // 19:00 at the school, whose zone is Oslo's or the test's own.
    const zone = (await readSchool(t.s.db)).value.zone
    expect([zone, mail.text.replace(/\s+/g, " ")]).toEqual([
      zone,
      expect.stringMatching(/We meet on Thursday 3 December at \d\d:00 \(Lima time\)/),
    ])
    expect(mail.html).toContain(`src="${t.s.config.origin}/media/${stored}.jpg" width="560" height="350" alt="A jar"`)
    expect(mail.html).not.toContain("onerror")
  })

  it("says to somebody of whom nothing is known what stands instead", async () => {
    const mail = await seen("")
    expect(mail.subject).toBe("some jars, friend")
    expect(mail.html).toContain("You have a few jars.")
    expect(await previewFor(t.s, letter(), "nobody@post.example")).toHaveProperty("refused")
  })

  it("says otherwise where an offer is gone, and a time that is none", async () => {
    const gone = `<p>${richChip("price-9999", "see there")} ${richChip("moment-2026-13-45T99:00" as never, "x")}</p>`
    expect((await seen("", { body: gone })).text).toContain("see there")
  })

  it("means a field by what it was called before", async () => {
    expect(await renameField(t.s, jars, "Your jars")).toEqual({ ok: true })
    expect((await seen("ann@post.example")).subject).toBe("<b>two</b> & a half jars, Ann")
    expect((await seen("ann@post.example", { subject: "‹Your jars, else x›" })).subject).toBe("<b>two</b> & a half")
    expect(await newField(t.s, { label: "Jars at home", kind: "text" })).toMatchObject({ field: "label" })
  })
})

describe("an answer that a stranger typed", () => {
  it.each(["see evil.example now", "x@evil.example", "https://evil.example"])(
    "%s sends nobody anywhere",
    async (typed) => {
      const bob = await idOf("bob@post.example")
      expect(await setField(t.s, bob, jars, typed)).toEqual({ ok: true })
      expect((await seen("bob@post.example")).html).toContain("You have a few jars.")
      await setField(t.s, bob, jars, "")
    },
  )
})

describe("the plain text", () => {
  it("is made, or written by hand with its links", async () => {
    const typed = { ...letter(), body: '<p>Read <a href="https://x.example/">this</a></p>', button: "Go", step: 1 }
    expect(await plainTyped(t.s, typed)).toBe("Read this ‹link 1›\n\nGo ‹button›")
    const mail = await seen("ann@post.example", { ...typed, plain: "Dear ‹first name, else you›: ‹link 1›" })
    expect(mail.text).toMatch(/^Dear Ann: https:\/\/x\.example\/\n\nJuniper Crock\n/)
  })
})

describe("a picture in an e-mail", () => {
  it("is fetched as JPEG, made once, and nothing else is", async () => {
    await mkdir(t.s.config.mediaFolder, { recursive: true })
    const path = join(t.s.config.mediaFolder, stored)
    await sharp({ create: { width: 1400, height: 900, channels: 4, background: "#0000" } })
      .webp()
      .toFile(path)
    const [one, two] = await Promise.all([1, 2].map(() => findMedia(t.s.db, t.s.config, `${stored}.jpg`)))
    expect(one).toMatchObject({ type: "image/jpeg", path: `${path}-1120.jpeg`, open: true })
    expect(two).toEqual(one)
    expect(await sharp(one!.path).metadata()).toMatchObject({ format: "jpeg", width: 1120 })
    expect(await findMedia(t.s.db, t.s.config, stored)).toMatchObject({ type: "image/webp", path })
    for (const none of [`${stored}.jpg.jpg`, stored.replace("webp", "png.jpg"), `../${stored}.jpg`])
      expect(await findMedia(t.s.db, t.s.config, none)).toBeUndefined()
    // What a learner handed in is nobody's picture.
    await t.s.db.write("UPDATE media SET kind = 'handed-in' WHERE id = ?", [picture])
    expect(await findMedia(t.s.db, t.s.config, `${stored}.jpg`)).toBeUndefined()
    await t.s.db.write("UPDATE media SET kind = 'picture' WHERE id = ?", [picture])
  })
})

describe("the checklist", () => {
  it("sees to pictures and words, and where a button leads", async () => {
    const rules = async (more: object) => (await checkTyped(t.s, { ...letter(), ...more })).map((f) => f.rule)
    expect(await rules({})).toEqual(["no-address"])
    expect(await rules({ body: `<p>Look</p><img data-media="${picture}" alt="">` })).toEqual(
      expect.arrayContaining(["picture-only", "no-alt"]),
    )
    expect(await rules({ button: "Go", step: 9_999 })).toContain("leads-nowhere")
    await t.s.db.write("DELETE FROM live_page")
    const step = (await t.s.db.row<{ id: number }>("SELECT id FROM step ORDER BY id LIMIT 1"))!.id
    expect(await rules({ button: "Go", step })).toContain("leads-not-live")
  })
})

describe("a test", () => {
  it("goes to whoever writes, from whom the e-mail will come", async () => {
    const from = { name: "Maren’s kitchen", replyTo: "kitchen@crock.example" }
    expect(await testLetter(t.s, { ...letter(), from }, 1)).toEqual({ sent: "maren@crock.example" })
    expect(lastTo(t, "maren@crock.example")).toMatchObject({
      subject: "Test: some jars, friend",
      from: { name: "Maren’s kitchen" },
      replyTo: "kitchen@crock.example",
    })
    expect((await seen("", { from })).from).toMatch(/^Maren’s kitchen <.*>, replies to kitchen@crock\.example$/)
    expect(await testLetter(t.s, letter(), 9_999)).toHaveProperty("refused")
  })
})

describe("what is sent", () => {
  it("is what was written: words, picture, plain text; and what it speaks of is known to be used", async () => {
    const made = await newBroadcast(t.s, "Jars")
    if ("refused" in made) throw new Error(made.refused)
    const { document } = (await readBroadcast(t.s.db, made.id))!
    const { subject, lesson: _, step: __, ...rest } = letter()
    const kept = await saveBroadcast(t.s, made.id, {
      document: { ...document, ...rest, subjects: [subject], plain: "For ‹Your jars, else a few› jars" },
    })
    expect(kept).toHaveProperty("revision")
    expect(await planBroadcast(t.s, made.id)).toEqual({ ok: true })
    t.set(t.at() + 86_400_000)
    await sendDue(t.s, "w")
    const mail = lastTo(t, "ann@post.example")
    expect(mail.subject).toBe("<b>two</b> & a half jars, Ann")
    expect(mail.text).toMatch(/^For <b>two<\/b> & a half jars\n\nJuniper Crock/)
    expect(mail.html).toContain(`/media/${stored}.jpg`)
    expect(lastTo(t, "bob@post.example").html).toContain("Until Monday 7 December at 00:59 (Oslo time).")
    const uses = [
      await usesOf(t.s.db, "media", picture),
      await usesOf(t.s.db, "offer", year),
      await usesOfField(t.s.db, (await listFields(t.s.db))[0]!),
    ]
    for (const found of uses) expect(found.map((u) => u.says)).toContain("the broadcast “Jars”")
  })

  it("is dressed in the school’s look", async () => {
    expect(await saveLook(t.s, plainly("conservatory"))).toHaveProperty("worn.kind", "conservatory")
    expect((await seen("")).html).toContain("background-color: #E9EBDF")
    const sequence = await newSequence(t.s, "Plain")
    if ("refused" in sequence) throw new Error(sequence.refused)
    const mail = await addLetter(t.s, sequence.id)
    if ("refused" in mail) throw new Error(mail.refused)
    const { lesson, step, ...rest } = letter()
    expect(await saveMail(t.s, { ...rest, lesson, step, mail: mail.id, plain: "By hand" })).toMatchObject({
      value: { plain: "By hand" },
    })
    const like = await addLetter(t.s, sequence.id, mail.id)
    if ("refused" in like) throw new Error(like.refused)
    expect(await t.s.db.row("SELECT plain FROM sequence_mail WHERE id = ?", [like.id])).toEqual({ plain: "By hand" })
  })
})
