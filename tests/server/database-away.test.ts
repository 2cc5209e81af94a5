// MariaDB killed and back: what is published stays, the rest says "back in a moment", and works on afterwards.
import { rmSync } from "node:fs"
import { afterAll, beforeAll, expect, it } from "vitest"
import { openInstallation } from "@/cli/installation"
import { type MariaDb, startMariaDb } from "@/cli/mariadb"
import { type FrontServer, frontServer } from "@/front/server"
import type { Context } from "@/server/context"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { wiring } from "@/server/listeners"
import { sendDue } from "@/server/mail/send"
import { openSchool, type TestSchool, testSchool } from "../support/school"

const folder = `.test/away-${process.pid}`
let mariadb: MariaDb
let t: TestSchool
let s: Context
let web: FrontServer
let origin: string
beforeAll(async () => {
  mariadb = await startMariaDb(openInstallation(folder))
  t = await testSchool("away")
  const db = openDatabase(mariadb.url, 6, undefined, wiring)
  await migrate(db)
  s = { ...t.s, db }
  Object.assign(t, { s })
  const school = await openSchool(t)
  expect(school.path).toBe("first")
  web = frontServer(s, async (_, res) => void res.end("next"))
  await web.front.live.refresh()
  await new Promise<void>((r) => web.server.listen(0, "127.0.0.1", () => r()))
  origin = `http://127.0.0.1:${(web.server.address() as { port: number }).port}`
})
afterAll(async () => {
  await web.close()
  await s.db.end()
  await mariadb.stop()
  await t.end()
  rmSync(folder, { recursive: true, force: true })
})

const release = async () => String((await s.db.row<{ id: number }>("SELECT MAX(id) AS id FROM `release`"))!.id)
const join = (email: string, id: string) =>
  fetch(`${origin}/first`, { method: "POST", redirect: "manual", body: new URLSearchParams({ email, release: id }) })

it("loses nothing that was confirmed, and works on", async () => {
  const id = await release()
  expect((await join("before@post.example", id)).status).toBe(303)
  process.kill(mariadb.pid()!, "SIGKILL")
  await new Promise((r) => setTimeout(r, 700))
  const page = await fetch(`${origin}/first`)
  expect(page.status).toBe(200) // what is published stays
  const cookie = page.headers.getSetCookie().map((c) => c.split(";")[0])
  await fetch(`${origin}/seen.gif`, { headers: { cookie: cookie.join("; ") } })
  const refused = await join("during@post.example", id)
  expect(refused.status).toBe(503)
  expect(await refused.text()).toContain("Back in a moment")
  expect((await fetch(`${origin}/studio`)).status).toBe(503)
  expect(await (await fetch(`${origin}/healthz`)).json()).toMatchObject({ ok: false, database: "not reachable" })
  await expect(sendDue(s, "w")).rejects.toThrow()

  await mariadb.restart()
  await new Promise((r) => setTimeout(r, 700))
  expect((await join("after@post.example", id)).status).toBe(303)
  expect(await (await fetch(`${origin}/studio`)).text()).toBe("next")
  await sendDue(s, "w")
  expect(t.sent.map((m) => m.to.address).sort()).toEqual(["after@post.example", "before@post.example"])
  await web.front.visits.flush()
  expect((await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM journey"))!.n).toBeGreaterThanOrEqual(3) // the visit while it was away, too
})
