// The studio, the shelf and a lesson with ten and with a hundred times the demo, and after a rush of newcomers: whole answers
// over loopback. A view that counts what grows would show it.
import { Agent, get } from "node:http"
import { startDemoSchool } from "@/cli/demo-school"
import { configFromEnvironment } from "@/server/config"
import { type Context, closeContext } from "@/server/context"
import { openDatabase } from "@/server/db/pool"
import { gatherRests, rollRests, rollUp } from "@/server/funnel/rollup"
import { rollJournal } from "@/server/ledger/balance"
import { rollSold } from "@/server/numbers/roll-sold"
import { rollSources } from "@/server/numbers/roll-sources"
import { openContext } from "@/server/open"
import { beginSession, sessionCookie } from "@/server/person/session"
import { rollTally } from "@/server/tally"
import { filled, multiply } from "./multiply"
import { type Line, median } from "./report"
import { timed } from "./yardstick"

const newcomers = 300_000
const looks = 9

export async function benchStudio(folder: string): Promise<Line[]> {
  // As much memory as a school of this size is given.
  process.env.HERON_DB_MEMORY ??= "3G"
  const school = await startDemoSchool(folder, 5200)
  const s = openContext(configFromEnvironment(school.environment), "bench")
  const slow = openDatabase(s.config.databaseUrl, 3, 900_000)
  const wide: Context = { ...s, db: slow }
  try {
    const views = await viewsOf(s)
    const cookie = await cookieOf(s)
    const sizes: { name: string; took: string; times: Map<string, number> }[] = []
    const measure = async (name: string, took: number) => {
      const times = await timesOf(school.origin, views, cookie)
      sizes.push({ name, took: `${(took / 1000).toFixed(0)} s`, times })
      for (const [view, ms] of times) console.log(`  ${name}: ${view} ${ms.toFixed(0)} ms`)
    }
    await measure("the demo", 0)
    for (const [round, name] of Object.entries({ a: "ten times", b: "a hundred times" })) {
      await settle(wide)
      const start = performance.now()
      await multiply(slow, 9, round)
      const took = performance.now() - start
      // As InnoDB does by itself, some seconds after so many rows.
      await slow.rows(`ANALYZE TABLE ${filled.join(", ")}`)
      await settle(wide)
      await checkSums(slow)
      await measure(name, took)
      console.log(`  ${name}: ${await rowsOf(slow)}; filled in ${sizes.at(-1)!.took}`)
    }
    const start = performance.now()
    await rush(school.origin, newcomers)
    console.log(`  ${newcomers} newcomers came in ${((performance.now() - start) / 1000).toFixed(0)} s`)
    await measure("and a rush", performance.now() - start)
    return views.map((view) => {
      const of = sizes.map((x) => x.times.get(view)!)
      return {
        what: view,
        against: `${of.map((t) => t.toFixed(0)).join(", ")} ms: ${(Math.max(...of) / Math.min(...of)).toFixed(2)} times, 1.5 wanted`,
        ...timed(Math.max(...of), 150, "query"),
      }
    })
  } finally {
    await slow.end()
    await closeContext(s)
    await school.stop()
  }
}

async function settle(s: Context): Promise<void> {
  while ((await rollUp(s, 500_000)) > 0);
  while ((await rollRests(s, 100_000)) > 0);
  while ((await rollTally(s)) > 0);
  while ((await rollSources(s)) > 0);
  while ((await rollSold(s.db, 50_000)) > 0);
  while ((await gatherRests(s)) > 0);
  while ((await rollJournal(s, -1)) > 0);
}

/** What the sums say is what can be counted. */
async function checkSums(db: Context["db"]): Promise<void> {
  for (const [says, counted] of [
    ["SELECT SUM(n) AS n FROM tally WHERE what = 'people'", "SELECT COUNT(*) AS n FROM person"],
    ["SELECT SUM(n) AS n FROM rest_day", "SELECT COUNT(*) AS n FROM journey"],
    ["SELECT SUM(n) AS n FROM river_day", "SELECT COUNT(*) AS n FROM fact WHERE kind = 'arrived'"],
    ["SELECT SUM(visited) AS n FROM source_day", "SELECT COUNT(*) AS n FROM journey"],
    ["SELECT SUM(n) AS n FROM tally WHERE what = 'orders'", "SELECT COUNT(*) AS n FROM orders"],
  ] as const) {
    const [sum, count] = [await db.row<{ n: number }>(says), await db.row<{ n: number }>(counted)]
    if (sum!.n !== count!.n) throw new Error(`${says}: ${sum!.n}, counted ${count!.n}`)
  }
}

async function rowsOf(db: Context["db"]): Promise<string> {
  const counts = []
  for (const table of ["person", "journey", "fact", "orders", "mail"])
    counts.push(`${(await db.row<{ n: number }>(`SELECT COUNT(*) AS n FROM ${table}`))!.n} ${table}`)
  return counts.join(", ")
}

async function viewsOf(s: Context): Promise<string[]> {
  const one = async (sql: string) => (await s.db.row<{ id: number | string }>(sql))!.id
  const mini = await one("SELECT funnel_id AS id FROM step WHERE kind = 'optin' LIMIT 1")
  const sale = await one("SELECT funnel_id AS id FROM step WHERE kind = 'checkout' LIMIT 1")
  const course = await one("SELECT id FROM course ORDER BY id LIMIT 1")
  const free =
    "FROM admission a JOIN course c ON c.id = a.course_id JOIN lesson l ON l.course_id = c.id AND l.state = 'live'"
  const lesson = await one(
    `SELECT CONCAT(c.slug, '/', l.id) AS id ${free} ORDER BY c.id, a.person_id, l.position LIMIT 1`,
  )
  const step = await one(`SELECT id FROM step WHERE funnel_id = ${sale} AND kind = 'sales'`)
  const optin = await one(`SELECT id FROM step WHERE funnel_id = ${mini} AND kind = 'optin'`)
  const sequence = await one(
    `SELECT sequence_id AS id FROM reference WHERE funnel_id = ${mini} AND sequence_id IS NOT NULL LIMIT 1`,
  )
  const offer = await one("SELECT id FROM offer ORDER BY id LIMIT 1")
  const person = await one("SELECT MIN(person_id) AS id FROM orders WHERE state = 'paid'")
  const order = await one("SELECT MIN(id) AS id FROM orders WHERE state = 'paid'")
  return [
    "/studio",
    "/studio/funnels",
    `/studio/funnels/${mini}`,
    `/studio/funnels/${mini}?from=2020-01-01`,
    `/studio/funnels/${sale}`,
    `/studio/funnels/${sale}?from=2020-01-01`,
    `/studio/funnels/${sale}?from=2020-01-01&in=money`,
    "/studio/funnels/new",
    `/studio/funnels/${mini}/steps/${optin}`,
    `/studio/funnels/${sale}/steps/${step}`,
    `/studio/mail/sequences/${sequence}`,
    "/studio/courses",
    `/studio/courses/${course}`,
    "/studio/offers",
    `/studio/offers/${offer}`,
    "/studio/offers/coupons",
    "/studio/people",
    `/studio/people/${person}`,
    "/studio/mail",
    "/studio/mail/due?show=sent",
    "/studio/ledger",
    `/studio/ledger/orders/${order}`,
    "/studio/ledger/plans",
    "/studio/ledger/books",
    "/studio/numbers",
    "/studio/numbers?from=2020-01-01",
    "/studio/numbers?by=funnel&credit=made",
    "/studio/numbers?by=offer",
    "/studio/numbers?by=sequence",
    "/studio/numbers?by=webinar",
    `/studio/numbers/change?funnel=${sale}`,
    `/studio/numbers/forecast?funnel=${sale}`,
    `/studio/numbers/days?funnel=${sale}`,
    "/studio/numbers/groups",
    "/studio/settings",
    "/learn",
    `/learn/${lesson}`,
  ]
}

async function cookieOf(s: Context): Promise<string> {
  const account = (await s.db.row<{ id: number }>("SELECT id FROM account LIMIT 1"))!.id
  const learner = (await s.db.row<{ id: number }>(
    "SELECT a.person_id AS id FROM admission a JOIN course c ON c.id = a.course_id ORDER BY c.id, a.person_id LIMIT 1",
  ))!.id
  const studio = await beginSession(s.db, "studio", account)
  const learn = await beginSession(s.db, "learn", learner)
  return `${sessionCookie(s.config, "studio")}=${studio}; ${sessionCookie(s.config, "learn")}=${learn}`
}

/** Medians of whole answers, ms, after two looks that nobody counts; infinite where a view gave up. */
async function timesOf(origin: string, views: readonly string[], cookie: string): Promise<Map<string, number>> {
  const agent = new Agent({ keepAlive: true })
  const times = new Map<string, number>()
  for (const view of views) {
    const of: number[] = []
    for (let i = 0; i < looks; i++) {
      const start = performance.now()
      const status = (await fetched(`${origin}${view}`, { cookie }, agent)).status
      if (i > 1) of.push(status === 200 ? performance.now() - start : Number.POSITIVE_INFINITY)
    }
    times.set(view, median(of))
  }
  agent.destroy()
  return times
}

type Fetched = { readonly status: number; readonly cookies: readonly string[] }

function fetched(url: string, headers: Record<string, string>, agent: Agent): Promise<Fetched> {
  return new Promise((done, failed) => {
    get(url, { agent, headers }, (res) => {
      res.resume()
      res.on("end", () =>
        done({
          status: res.statusCode!,
          cookies: (res.headers["set-cookie"] ?? []).map((c) => c.slice(0, c.indexOf(";"))),
        }),
      )
    }).on("error", failed)
  })
}

/** Newcomers as browsers are: the page, and its picture with the cookies that came. */
async function rush(origin: string, many: number): Promise<void> {
  const agent = new Agent({ keepAlive: true, maxSockets: 64 })
  let next = 0
  const lane = async () => {
    for (let i = next++; i < many; i = next++) {
      const page = await fetched(`${origin}/first-crock?utm_source=launch-${i % 7}`, {}, agent)
      await fetched(`${origin}/seen.gif`, { cookie: page.cookies.join("; ") }, agent)
    }
  }
  await Promise.all(Array.from({ length: 64 }, lane))
  agent.destroy()
}
