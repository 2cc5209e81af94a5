// Links that say where they stand: made, counted as the river counts them, and what is refused.
import { afterAll, beforeAll, describe, expect, it } from "vitest"
import { sourceOf, sourceQuery } from "@/core/source"
import { cameBetween } from "@/server/funnel/rollup"
import { linkTargets, listTrackedLinks, makeTrackedLink, removeTrackedLink } from "@/server/funnel/tracked-link"
import { openSchool, someVisitor, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("tracked")
  school = await openSchool(t)
})
afterAll(() => t.end())

const first = async () => (await linkTargets(t.s.db))[0]!.id
const visit = (source: string) =>
  t.s.db.write(
    "INSERT INTO fact (at, recorded_at, kind, funnel_id, visitor, step_id, via, source, begun_at) SELECT ?, NOW(), 'arrived', ?, ?, MIN(id), 'source', ?, ? FROM step WHERE funnel_id = ?",
    [new Date(t.at()), school.funnel, someVisitor(), source, new Date(t.at()), school.funnel],
  )

describe("a source in an address", () => {
  it.each([
    ["garden letter", ""],
    ["poster & flyer", "spring=2027"],
    ["Ōkami", "ü"],
  ])("is read back as it was written: %s, %s", (source, campaign) =>
    expect(sourceOf(new URLSearchParams(sourceQuery(source, campaign)), "", "")).toBe(
      campaign ? `${source} · ${campaign}` : source,
    ),
  )
})

describe("tracked links", () => {
  it("are made once for a page and a place, and count whoever comes by them", async () => {
    const step = await first()
    const made = await makeTrackedLink(t.s, { step, source: "  garden \n letter ", campaign: "" })
    expect(await makeTrackedLink(t.s, { step, source: "garden letter", campaign: "" })).toEqual(made)
    await makeTrackedLink(t.s, { step, source: "garden letter", campaign: "spring" })
    for (const source of ["garden letter", "garden letter", "garden letter · spring", "direct"]) await visit(source)
    const links = await listTrackedLinks(t.s)
    expect(links.map((l) => [l.source, l.visited, l.live])).toEqual([
      ["garden letter · spring", 1, true],
      ["garden letter", 2, true],
    ])
    expect(links[1]!.url).toBe(`${t.s.config.origin}/first?utm_source=garden+letter`)
    // A new address counts from when it is published.
    await t.s.db.write("UPDATE step SET path = 'begin-here' WHERE id = ?", [step])
    expect((await listTrackedLinks(t.s))[1]!.url).toBe(links[1]!.url)
    // The list of funnels counts them, too, with everybody else.
    expect((await cameBetween(t.s.db, { from: 0, to: 4_102_444_800_000 })).get(school.funnel)).toBe(4)
    expect(await removeTrackedLink(t.s, links[0]!.id)).toEqual({ ok: true })
    expect(await removeTrackedLink(t.s, links[0]!.id)).toHaveProperty("refused")
  })

  it.each([
    ["no source", { source: " " }],
    ["an affiliate's", { source: "@ada" }],
    ["no page", { step: 99_999 }],
    ["words for a number", { step: "1 OR 1=1" }],
  ])("refuse %s", async (_, wrong) =>
    expect(await makeTrackedLink(t.s, { step: await first(), source: "x", campaign: "", ...wrong })).toHaveProperty(
      "refused",
    ),
  )
})
