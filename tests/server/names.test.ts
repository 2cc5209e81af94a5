// First names of who joined lately: only of those who agreed, and as long as they do.
import { afterAll, beforeAll, expect, test } from "vitest"
import { figuresHtml, firstNameShown } from "@/core/page/figures"
import { courseFigures, showName } from "@/server/course/figures"
import { confirmJoin, pendingJoin } from "@/server/funnel/confirm"
import { savePage } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { sendDue } from "@/server/mail/send"
import { join_, linkId, openSchool, someVisitor, type TestSchool, testSchool } from "../support/school"

let t: TestSchool
let school: Awaited<ReturnType<typeof openSchool>>
beforeAll(async () => {
  t = await testSchool("names")
  school = await openSchool(t)
})
afterAll(() => t.end())

async function asked(name: string, email: string): Promise<number> {
  await join_(t, school, email, { name, visitor: someVisitor() })
  await sendDue(t.s, "w")
  return linkId(t, t.sent.filter((m) => m.to.address === email).at(-1)!, "confirm")
}

test("a page that says who joined makes the press ask, and only who agreed is named, for thirty days", async () => {
  const funnel = (await loadFunnel(t.s.db, school.funnel))!
  const step = funnel.steps.find((x) => x.kind === "optin")!
  const course = (await t.s.db.row<{ id: number }>("SELECT id FROM course LIMIT 1"))!.id
  const before = await asked("Zoe", "zoe@post.example")
  expect(await pendingJoin(t.s, before)).toMatchObject({ asksName: false })
  const block = { id: "said", kind: "figures", course, show: ["lately", "names"] }
  expect(await savePage(t.s, step.id, 1, { ...step.page!, blocks: [...step.page!.blocks, block] })).not.toHaveProperty(
    "refused",
  )
  expect(await pendingJoin(t.s, before)).toMatchObject({ asksName: true })
  await confirmJoin(t.s, before, { ip: "" })
  for (const name of ["Anna Weber", "Björn", "O’Neil", "www.example.com", "Ute"]) {
    const id = await asked(name, `${name.length}${name[0]}@post.example`)
    await confirmJoin(t.s, id, { ip: "", showName: true })
  }
  const named = async (at: number) => (await courseFigures(t.s.db, at))[course]!.names
  expect([...(await named(t.at()))].sort()).toEqual(["Anna", "Björn", "O’Neil", "Ute"])
  const anna = (await t.s.db.row<{ id: number }>("SELECT id FROM person WHERE name = 'Anna Weber'"))!.id
  await showName(t.s.db, anna, false, t.at())
  expect([...(await named(t.at()))].sort()).toEqual(["Björn", "O’Neil", "Ute"])
  const figures = (await courseFigures(t.s.db, t.at()))[course]!
  expect(figuresHtml(figures, ["names"]).text).toMatch(/(Björn|O’Neil|Ute), .* and .* joined in the last 30 days\./)
  expect(figuresHtml({ ...figures, names: ["Ute", "Björn"] }, ["names"]).text).toBe("")
  expect(await named(t.at() + 31 * 86_400_000)).toEqual([])
})

test("nothing but a name is said as one", () => {
  const said = [
    "Maren Falk",
    "  Jean-Luc",
    "D’Arcy",
    "A",
    "x.example",
    "<b>",
    "Buy!",
    "",
    "أحمد",
    "1234",
    "N".repeat(21),
  ]
  expect(said.map(firstNameShown)).toEqual([
    "Maren",
    "Jean-Luc",
    "D’Arcy",
    null,
    null,
    null,
    null,
    null,
    "أحمد",
    null,
    null,
  ])
})
