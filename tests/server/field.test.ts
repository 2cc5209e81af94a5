// Fields of people: made, asked for in a form, brought by a file, changed by hand, and what hangs on an answer.
import { Readable } from "node:stream"
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { type Block, readPage } from "@/core/page/document"
import { doWhatIsDue } from "@/server/due-list"
import { confirmJoin } from "@/server/funnel/confirm"
import { savePage } from "@/server/funnel/edit"
import { listEffects } from "@/server/funnel/effects-view"
import { pageRevision } from "@/server/funnel/funnel-view"
import { loadFunnel } from "@/server/funnel/load"
import { addOnOccasion } from "@/server/funnel/occasion"
import { publishFunnel } from "@/server/funnel/release"
import { sendDue } from "@/server/mail/send"
import { peopleIn } from "@/server/person/count"
import { erasePerson, everythingOf } from "@/server/person/erase"
import {
  fieldsListed,
  knownOf,
  listFields,
  newField,
  removeField,
  renameField,
  saveChoices,
  setField,
  usesOfField,
} from "@/server/person/field"
import { keepImport, readImport, startImport, takeBackImport } from "@/server/person/import"
import { personStory } from "@/server/person/people"
import { exportSegment, newSegment, saveSegment } from "@/server/person/segment"
import { partPersons, unite, unitedLately } from "@/server/person/unite"
import { join_, lastTo, linkId, openSchool, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
const ids: Record<"jars" | "place" | "since" | "gift" | "words", number> = {} as never
let kitchen: number
let cellar: number

beforeAll(async () => {
  t = await testSchool("field")
  school = await openSchool(t)
  const made = async (label: string, kind: string) => {
    const done = await newField(t.s, { label, kind })
    if ("refused" in done) throw new Error(done.refused)
    return done.id
  }
  ids.jars = await made(" Jars at  home ", "number")
  ids.place = await made("Where do you ferment?", "choice")
  ids.since = await made("Since", "date")
  ids.gift = await made("Is it a gift?", "yes-no")
  ids.words = await made("What you hope for", "text")
  await saveChoices(t.s, ids.place, [
    { id: null, says: "Kitchen" },
    { id: null, says: "Cellar" },
  ])
  const [a, b] = (await fieldOf(ids.place)).choices
  kitchen = a!.id
  cellar = b!.id
})
afterAll(() => t.end())

const fieldOf = async (id: number) => (await listFields(t.s.db)).find((f) => f.id === id)!
const idOf = async (email: string) =>
  (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE email = ?", [email]))!.id
const known = async (email: string) =>
  Object.fromEntries((await knownOf(t.s.db, await idOf(email))).map((k) => [k.field.label, k.shown]))

/** Has the opt-in page ask for fields, and publishes it. */
async function ask(fields: { field: number; required: boolean }[]): Promise<void> {
  const funnel = (await loadFunnel(t.s.db, school.funnel))!
  const step = funnel.steps[0]!
  const put = (b: Block): Block =>
    b.kind === "form" ? { ...b, fields } : "blocks" in b ? { ...b, blocks: b.blocks.map(put) } : b
  const page = readPage({ ...step.page!, blocks: step.page!.blocks.map(put) })
  const revision = await pageRevision(t.s.db, step.id)
  expect(await savePage(t.s, step.id, revision, page, step.page!)).toHaveProperty("revision")
  const published = await publishFunnel(t.s, school.funnel)
  if ("refused" in published) throw new Error(published.refused)
  school = { ...school, release: published.release }
}

async function joined(email: string, answers: Record<number, string>) {
  expect(await join_(t, school, email, { answers })).toHaveProperty("goTo")
  await sendDue(t.s, "w")
  await confirmJoin(t.s, linkId(t, lastTo(t, email), "confirm"), { ip: "" })
}

describe("a field", () => {
  it("is one of its name, and of a kind", async () => {
    for (const bad of [
      { label: "jars at home", kind: "text" },
      { label: "First name", kind: "text" },
      { label: " ‹,› ", kind: "text" },
      { label: "x", kind: "colour" },
      { label: "x".repeat(61), kind: "text" },
      null,
    ])
      expect(await newField(t.s, bad)).toMatchObject({ refused: expect.any(String) })
    expect((await fieldOf(ids.jars)).label).toBe("Jars at home")
    expect((await fieldOf(ids.gift)).choices.map((c) => c.says)).toEqual(["Yes", "No"])
    expect(await renameField(t.s, ids.words, "Since")).toMatchObject({ field: "label" })
    expect(await renameField(t.s, ids.words, "What do you hope for?")).toEqual({ ok: true })
    expect(await renameField(t.s, 9_999, "Nothing")).toMatchObject({ refused: expect.any(String) })
    expect(await saveChoices(t.s, ids.gift, [{ id: null, says: "Perhaps" }])).toHaveProperty("refused")
    expect(
      await saveChoices(t.s, ids.place, [
        { id: kitchen, says: "Cellar" },
        { id: cellar, says: "cellar" },
      ]),
    ).toMatchObject({ field: "choices" })
  })
})

describe("a form that asks", () => {
  it("refuses what is missing or doesn’t fit, and begins what hangs on an answer", async () => {
    await ask([
      { field: ids.place, required: true },
      { field: ids.jars, required: false },
    ])
    for (const [occasion, of, tag] of [
      ["picked", kitchen, "kitchen people"],
      ["answered", ids.jars, "has jars"],
    ] as const)
      expect(await addOnOccasion(t.s, { occasion, of, kind: "tag-on", tag })).toEqual({ ok: true })
    expect((await listEffects(t.s.db)).filter((e) => e.where === "Field").map((e) => e.when)).toEqual([
      "answers “Jars at home”",
      "chooses “Kitchen”",
    ])
    expect(await join_(t, school, "ann@post.example")).toMatchObject({
      refused: "form",
      says: "Please answer “Where do you ferment?”.",
    })
    expect(
      await join_(t, school, "ann@post.example", { answers: { [ids.place]: "Attic", [ids.jars]: "3" } }),
    ).toMatchObject({ says: "Please check your answer to “Where do you ferment?”." })
    // What the page doesn't ask for isn't taken.
    await joined("ann@post.example", { [ids.place]: String(kitchen), [ids.jars]: "7,5", [ids.words]: "peace" })
    expect(await known("ann@post.example")).toEqual({ "Where do you ferment?": "Kitchen", "Jars at home": "7.5" })
    const story = (await personStory(t.s.db, await idOf("ann@post.example")))!
    expect(story.tags.toSorted()).toEqual(["has jars", "kitchen people"])
    expect(story.facts.map((f) => t.s.words.story[f.kind]?.(f))).toEqual(
      expect.arrayContaining(["chose “Kitchen” for “Where do you ferment?”", "answered “7.5” for “Jars at home”"]),
    )
  })

  it("leaves nothing of what a stranger typed until the press", async () => {
    await join_(t, school, "ben@post.example", { answers: { [ids.place]: String(cellar) } })
    expect(await t.s.db.rows("SELECT 1 FROM person WHERE email = 'ben@post.example'")).toEqual([])
  })
})

describe("what is known of somebody", () => {
  it("is changed by hand, and an answer that doesn’t fit is refused in words", async () => {
    const ann = await idOf("ann@post.example")
    expect(await setField(t.s, ann, ids.since, "yesterday")).toMatchObject({ refused: "Write the day as 2026-11-26." })
    expect(await setField(t.s, ann, ids.since, "2020-05-01")).toEqual({ ok: true })
    expect(await setField(t.s, ann, ids.jars, "")).toEqual({ ok: true })
    expect(await setField(t.s, ann, 9_999, "x")).toMatchObject({ refused: expect.any(String) })
    expect(await setField(t.s, 9_999, ids.since, "2020-05-01")).toMatchObject({ refused: expect.any(String) })
    expect(await known("ann@post.example")).toEqual({ "Where do you ferment?": "Kitchen", Since: "2020-05-01" })
  })

  it("is asked for by segments, which keep the field and the choice from going", async () => {
    const segment = await newSegment(t.s, "Kitchen people")
    if ("refused" in segment) throw new Error(segment.refused)
    const question = {
      match: "all" as const,
      parts: [
        {
          kind: "field" as const,
          field: ids.place,
          how: "is" as const,
          value: String(kitchen),
          choice: true,
          has: true,
        },
        {
          kind: "field" as const,
          field: ids.since,
          how: "before" as const,
          value: "2020-06-01",
          choice: false,
          has: true,
        },
      ],
    }
    expect(await saveSegment(t.s, segment.id, { question })).toHaveProperty("revision")
    expect((await peopleIn(t.s, question)).first?.map((p) => p.email)).toEqual(["ann@post.example"])
    expect(await usesOfField(t.s.db, await fieldOf(ids.place))).toMatchObject([
      { says: "the segment “Kitchen people”", use: "asks for it" },
      { says: "“First” in “First”", use: "asks for it" },
      { says: "the segment “Kitchen people”", use: "asks who chose it" },
    ])
    expect(await saveChoices(t.s, ids.place, [{ id: cellar, says: "Cellar" }])).toMatchObject({
      refused: "“Kitchen” is used still: see where below.",
    })
    expect(await removeField(t.s, ids.place)).toMatchObject({ refused: expect.any(String) })
    // Two that change names, and one more.
    expect(
      await saveChoices(t.s, ids.place, [
        { id: cellar, says: "Kitchen" },
        { id: kitchen, says: "Cellar" },
        { id: null, says: "Balcony" },
      ]),
    ).toEqual({ ok: true })
    expect((await known("ann@post.example"))["Where do you ferment?"]).toBe("Cellar")
    let text = ""
    for await (const piece of exportSegment(t.s, segment.id)) text += piece
    const [head, line] = text.split("\r\n")
    expect(head).toBe(
      "email,name,time zone,joined,source,tags,Jars at home,Where do you ferment?,Since,Is it a gift?,What do you hope for?",
    )
    expect(line).toMatch(/^ann@post\.example,Ines,Europe\/Oslo,.*,Cellar,2020-05-01,,$/)
  })

  it("comes from a file by its name, where nothing was known, and goes with it", async () => {
    const file =
      "E-mail,Jars at home,Where do you ferment?,Is it a gift?\nann@post.example,4,balcony,\nnew@post.example,12,Kitchen,yes\nbad@post.example,many,,\n"
    const kept = await keepImport(t.s, "people.csv", Readable.from([Buffer.from(file)]))
    if ("refused" in kept) throw new Error(kept.refused)
    const { roles } = (await readImport(t.s, kept.id))!
    expect(roles).toEqual(["email", `field:${ids.jars}`, `field:${ids.place}`, `field:${ids.gift}`])
    expect(await startImport(t.s, kept.id, { roles, tags: [], consent: "" })).toEqual({ ok: true })
    await doWhatIsDue(t.s, "w")
    expect(await readImport(t.s, kept.id)).toMatchObject({ state: "done", fresh: 1, known: 1, refused: 1 })
    expect(await known("new@post.example")).toEqual({
      "Jars at home": "12",
      "Where do you ferment?": "Kitchen",
      "Is it a gift?": "Yes",
    })
    expect(await known("ann@post.example")).toMatchObject({ "Jars at home": "4", "Where do you ferment?": "Cellar" })
    // An answer given elsewhere sets nothing off.
    expect((await personStory(t.s.db, await idOf("new@post.example")))!.tags).toEqual([])
    expect(await takeBackImport(t.s, kept.id)).toEqual({ ok: true })
    expect(await known("ann@post.example")).toEqual({ "Where do you ferment?": "Cellar", Since: "2020-05-01" })
  })

  it("goes over when two persons become one, comes back when they part, and is given out and erased with them", async () => {
    await joined("two@post.example", { [ids.place]: String(kitchen), [ids.jars]: "3" })
    const [ann, two] = [await idOf("ann@post.example"), await idOf("two@post.example")]
    expect(await unite(t.s, ann, two)).toEqual({ ok: true })
    expect(await known("ann@post.example")).toMatchObject({ "Jars at home": "3" })
    expect(await partPersons(t.s, (await unitedLately(t.s, ann))[0]!.id)).toEqual({ ok: true })
    expect(await known("two@post.example")).toMatchObject({ "Jars at home": "3" })
    expect((await everythingOf(t.s.db, two))!.person_field).toHaveLength(2)
    expect(await erasePerson(t.s, two)).toEqual({ ok: true })
    expect(await t.s.db.rows("SELECT 1 FROM person_field WHERE person_id = ?", [two])).toEqual([])
  })
})

describe("a field that nothing uses", () => {
  it("goes, with what was known by it", async () => {
    const before = (await fieldsListed(t.s.db)).find((f) => f.id === ids.since)!
    expect([before.people, before.uses]).toEqual([1, 1])
    await t.s.db.write("DELETE FROM segment")
    expect(await removeField(t.s, ids.since)).toEqual({ ok: true })
    expect(await removeField(t.s, ids.since)).toMatchObject({ refused: expect.any(String) })
    expect(await known("ann@post.example")).toEqual({ "Where do you ferment?": "Cellar" })
  })
})
