// Two databases in one process: nothing that is remembered of one is taken for the other's.
import { afterAll, beforeAll, expect, it } from "vitest"
import { actingAs } from "@/server/context"
import { changeFunnel } from "@/server/funnel/edit"
import { publishFunnel } from "@/server/funnel/release"
import { sendDue } from "@/server/mail/send"
import { releaseById } from "@/server/releases"
import { join_, openSchool, type TestSchool, testSchool } from "../support/school"

let schools: { t: TestSchool; school: Awaited<ReturnType<typeof openSchool>> }[]
beforeAll(async () => {
  schools = []
  for (const name of ["Juniper", "Marram"]) {
    const t = await testSchool(`two_${name}`)
    const school = await openSchool(t)
    await changeFunnel(t.s, { funnel: school.funnel, name })
    const published = await publishFunnel(actingAs(t.s, { is: "account", id: 1 }), school.funnel, true)
    if ("refused" in published) throw new Error(published.refused)
    schools.push({ t, school: { ...school, release: published.release } })
  }
})
afterAll(async () => {
  for (const { t } of schools) await t.end()
})

it("have releases of the same number, each its own", async () => {
  const [a, b] = schools
  expect(a!.school.release).toBe(b!.school.release)
  const names = await Promise.all(
    schools.map(async ({ t, school }) => (await releaseById(t.s.db, school.release))?.funnel.name),
  )
  expect(names).toEqual(["Juniper", "Marram"])
  expect(await a!.t.s.db.row("SELECT actor FROM `release` WHERE id = ?", [a!.school.release])).toEqual({
    actor: "account:1",
  })
})

it("take forms and send mail side by side", async () => {
  await Promise.all(schools.map(({ t, school }, i) => join_(t, school, `reader${i}@post.example`)))
  await Promise.all(schools.map(({ t }) => sendDue(t.s, "w")))
  expect(schools.map(({ t }) => t.sent.map((m) => m.to.address))).toEqual([
    ["reader0@post.example"],
    ["reader1@post.example"],
  ])
})
