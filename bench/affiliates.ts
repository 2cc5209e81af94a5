// Affiliates: a click on a link, the views with a year of a hundred affiliates, a payout of ten thousand, and a million sales
// reckoned anew.
import { fork, spawn } from "node:child_process"
import { once } from "node:events"
import { readFileSync } from "node:fs"
import { startDemoSchool } from "@/cli/demo-school"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { makePayout, markPaid, previewPayout } from "@/server/affiliate/payout"
import { bankFileReady, payouts } from "@/server/affiliate/payout-after"
import { reckonAll } from "@/server/affiliate/reckon"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { statementFile } from "@/server/affiliate/statement"
import { configFromEnvironment } from "@/server/config"
import { type Context, closeContext } from "@/server/context"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { saveOffer } from "@/server/offer/offer"
import { openContext } from "@/server/open"
import { makeOwner } from "@/server/person/account"
import { beginSession, sessionCookie } from "@/server/person/session"
import { firstProgramme, saveProgramme } from "@/server/programme/programme"
import { addAffiliates, layPlans, sell } from "./affiliate-sales"
import { fetchRaw, openLoop, ratesOf } from "./pages"
import { type Line, median, quantile } from "./report"
import { timed } from "./yardstick"

const day = 86_400_000
const paid = 10_000
const lines = 200_000
const sales = 1_000_000

export async function benchAffiliates(folder: string): Promise<Line[]> {
  process.env.HERON_DB_MEMORY ??= "3G"
  return [...(await clicksAndViews(`${folder}-demo`)), ...(await money(folder))]
}

async function clicksAndViews(folder: string): Promise<Line[]> {
  const school = await startDemoSchool(folder, 200)
  const s = openContext(configFromEnvironment(school.environment), "bench")
  const wide = openDatabase(s.config.databaseUrl, 3, 900_000)
  const bare = fork("bench/bare-server.ts", { execArgv: ["--import", "tsx"] })
  try {
    const { code } = (await s.db.row<{ code: string }>("SELECT code FROM affiliate WHERE state = 'active' LIMIT 1"))!
    const plain = `${school.origin}/first-crock`
    const linked = `${plain}?via=${code}.letter`
    const page = await fetchRaw(linked)
    const port = await new Promise<number>((ready) => {
      bare.once("message", (p) => ready(p as number))
      bare.send({ body: page.body.toString("base64"), headers: { "content-encoding": "gzip" } })
    })
    const rate = await ratesOf({ linked, plain, bare: `http://127.0.0.1:${port}/` })
    const [of, without, against] = [median(rate.linked), median(rate.plain), median(rate.bare)]
    const slow = quantile(await openLoop(linked, 200, 15), 0.95)
    const slowPlain = quantile(await openLoop(plain, 200, 15), 0.95)
    return [
      {
        what: "clicks a second through the front",
        ours: of.toFixed(0),
        against: against.toFixed(0),
        ratio: (of / against).toFixed(2),
        wanted: "at least 0.5",
      },
      {
        what: "the same page without a link, for the record",
        ours: without.toFixed(0),
        against: against.toFixed(0),
        ratio: (without / against).toFixed(2),
        wanted: "nothing",
      },
      {
        what: "95th percentile of a click at 200 a second",
        ours: `${slow.toFixed(1)} ms`,
        against: `${slowPlain.toFixed(1)} ms without`,
        wanted: "no slower",
      },
      ...(await views(school.origin, { ...s, db: wide })),
    ]
  } finally {
    bare.disconnect()
    await wide.end()
    await closeContext(s)
    await school.stop()
  }
}

/** A year of a hundred affiliates beside the demo: 20,000 sales and 200,000 clicks. */
async function views(origin: string, s: Context): Promise<Line[]> {
  const now = await s.clock.now()
  const { offer } = (await s.db.row<{ offer: number }>("SELECT MIN(offer_id) AS offer FROM programme WHERE is_on"))!
  await layPlans(s.db)
  const first = await addAffiliates(s.db, 100, offer)
  await sell(s.db, { n: 20_000, first, affiliates: 100, offer, until: now })
  await s.db.write(
    `INSERT INTO mention (once, at, affiliate_id, sub, visitor) SELECT RANDOM_BYTES(16), ? - INTERVAL FLOOR(seq * 157.68) SECOND, ? + seq % 100, ELT(1 + seq % 4, '', 'letter', 'podcast', 'stall'), UNHEX(MD5(seq)) FROM seq_1_to_200000`,
    [new Date(now), first],
  )
  await s.db.write(
    "INSERT INTO mention_total (affiliate_id, sub, n, last_at) SELECT affiliate_id, sub, COUNT(*), MAX(at) FROM mention WHERE affiliate_id >= ? GROUP BY 1, 2",
    [first],
  )
  const person = (await s.db.row<{ id: number }>("SELECT person_id AS id FROM affiliate WHERE id = ?", [first]))!.id
  const account = (await s.db.row<{ id: number }>("SELECT id FROM account LIMIT 1"))!.id
  const cookie = `${sessionCookie(s.config, "affiliate")}=${await beginSession(s.db, "affiliate", person)}; ${sessionCookie(s.config, "studio")}=${await beginSession(s.db, "studio", account)}`
  const found: Line[] = []
  for (const [what, path] of [
    ["the portal", "/affiliate"],
    ["its links", "/affiliate/links"],
    ["the list of affiliates", "/studio/affiliates"],
    ["one affiliate", `/studio/affiliates/${first}`],
    ["the report", "/studio/affiliates/report"],
    ["the report by link", "/studio/affiliates/report?by=link"],
  ] as const) {
    const times: number[] = []
    for (let i = 0; i < 9; i++) {
      const start = performance.now()
      const res = await fetch(origin + path, { headers: { cookie }, redirect: "manual" })
      await res.arrayBuffer()
      if (res.status !== 200) throw new Error(`${path} answered ${res.status}`)
      if (i > 1) times.push(performance.now() - start)
    }
    found.push({ what: `${what}, a year of 100`, ...timed(median(times), 150, "query") })
  }
  return found
}

async function money(folder: string): Promise<Line[]> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const env: NodeJS.ProcessEnv = {
    ...process.env,
    DATABASE_URL: mariadb.url,
    HERON_MODE: "test",
    HERON_DATA: folder,
    HERON_SECRET: "a secret of the bench, long enough",
    HERON_INSTALLATION: "bench",
    HERON_LEASE_MS: "2000",
  }
  const open = openContext(configFromEnvironment(env), "bench")
  const db = openDatabase(mariadb.url, 4, 900_000)
  const s: Context = { ...open, db }
  try {
    await migrate(db)
    await makeOwner(s, { school: "Bench", name: "B", email: "b@bench.example", password: "brine before breakfast" })
    const rules = { days: 30, which: "last", consent: "not-needed", dueDays: 30, least: 0, payDays: [1] }
    const from = { withTax: false, holder: "Bench", iban: "NO93 8601 1117 947", bic: "", notePrefix: "CN" }
    const saved = await saveAffiliateRules(s, { ...rules, ...from })
    if ("refused" in saved) throw new Error(saved.refused)
    await layPlans(db)
    const offer = await anOffer(s)
    const first = await addAffiliates(db, paid, offer)
    const until = (await s.clock.now()) - 60 * day
    await sell(db, { n: lines, first, affiliates: paid, offer, until })
    const found = await payout(s, env)
    const start = performance.now()
    await sell(db, { n: sales - lines, first, affiliates: paid, offer, until })
    console.log(`  ${sales - lines} more sales were filled in, in ${((performance.now() - start) / 1000).toFixed(0)} s`)
    return [...found, await reckoned(s)]
  } finally {
    await db.end()
    await closeContext(open)
    await mariadb.stop()
  }
}

async function anOffer(s: Context): Promise<number> {
  const made = await saveOffer(s, {
    id: null,
    publicName: "Bench",
    internalName: "",
    promise: "",
    pictureId: null,
    currency: "EUR",
    gifts: [{ kind: "post", title: "A jar" }],
    terms: [{ id: null, name: "", terms: { kind: "full", amount: 29_000 } }],
    pieces: null,
    perPerson: null,
    from: null,
    until: null,
    hidden: false,
    afterFailure: "ends",
  })
  if ("refused" in made) throw new Error(made.refused)
  await saveProgramme(s, made.id, { ...firstProgramme, on: true })
  return made.id
}

async function payout(s: Context, env: NodeJS.ProcessEnv): Promise<Line[]> {
  const until = await s.clock.now()
  const start = performance.now()
  const seen = await previewPayout(s, until)
  const made = await makePayout(s, {
    until,
    day: new Date(until).toISOString().slice(0, 10),
    seen: seen.seen,
    once: "the-form-of-the-bench-0001",
  })
  const took = performance.now() - start
  if ("refused" in made) throw new Error(made.refused)
  const id = made.ids[0]!
  const written = await killedAndTakenUp(s, env, "SELECT file_done AS n FROM payout")
  const file = (await bankFileReady(s, id))!
  const xml = readFileSync(file.path, "utf8")
  const sum = /<CtrlSum>([\d.]+)</.exec(xml)?.[1]
  const amounts = [...xml.matchAll(/<InstdAmt Ccy="EUR">([\d.]+)</g)].map((m) => Math.round(Number(m[1]) * 100))
  const whole = amounts.reduce((a, b) => a + b, 0)
  if (amounts.length !== paid || (whole / 100).toFixed(2) !== sum || whole !== seen.totals[0]!.amount)
    throw new Error(`the file has ${amounts.length} payments of ${whole}, and says ${sum}`)
  const booking = performance.now()
  await markPaid(s, id)
  const booked = performance.now() - booking
  const told = await killedAndTakenUp(s, env, "SELECT COUNT(*) AS n FROM payout_to WHERE mailed = 1")
  const mails = (await s.db.row<{ n: number; different: number }>(
    "SELECT COUNT(*) AS n, COUNT(DISTINCT payout_to_id) AS different FROM mail WHERE kind = 'statement'",
  ))!
  if (mails.n !== paid || mails.different !== paid) throw new Error(`${mails.n} were written to`)
  const some = await s.db.rows<{ id: number; affiliate: number }>(
    "SELECT id, affiliate_id AS affiliate FROM payout_to LIMIT 100",
  )
  const drawing = performance.now()
  for (const t of some) if (!(await statementFile(s.db, s.config, t.id, t.affiliate))) throw new Error("no statement")
  const drawn = (performance.now() - drawing) / some.length
  const { n } = (await s.db.row<{ n: number }>("SELECT line_count AS n FROM payout"))!
  return [
    {
      what: `a payout of ${paid} affiliates, ${n} lines, seen and made`,
      ...timed(took, 5_000, "write"),
    },
    { what: "the bank's file, its writer killed in the middle", ours: written, wanted: "whole, no double" },
    { what: "marked as paid, numbered and booked", ours: `${(booked / 1000).toFixed(2)} s`, wanted: "for the record" },
    { what: "10,000 are written to, killed in the middle", ours: told, wanted: "each once" },
    { what: "a statement as a PDF", ours: `${drawn.toFixed(0)} ms`, wanted: "for the record" },
  ]
}

/** Has another process write, kills it in the middle, waits until its lease is over, and goes on here; gives how long in all. */
async function killedAndTakenUp(s: Context, env: NodeJS.ProcessEnv, count: string): Promise<string> {
  const start = performance.now()
  const child = spawn(process.execPath, ["--import", "tsx", "bench/payout-worker.ts"], { env, stdio: "inherit" })
  const gone = once(child, "exit")
  let at = 0
  while (at === 0 && child.exitCode === null) {
    at = (await s.db.row<{ n: number }>(count))!.n
    await new Promise((r) => setTimeout(r, 3))
  }
  child.kill("SIGKILL")
  await gone
  at = (await s.db.row<{ n: number }>(count))!.n
  if (at >= paid) throw new Error("it was over before it could be killed")
  await new Promise((r) => setTimeout(r, s.config.leaseMs + 100))
  await payouts.run(s, "bench")
  return `at ${at}, ${((performance.now() - start) / 1000).toFixed(1)} s in all`
}

async function reckoned(s: Context): Promise<Line> {
  const start = performance.now()
  const said = await reckonAll(s.db)
  const took = (performance.now() - start) / 1000
  const [eur] = said.sums
  if (said.charges !== sales || said.wrong.length || eur!.reckoned !== eur!.booked || eur!.reckoned !== eur!.written)
    throw new Error(`${said.charges} charges, ${said.wrong.length} wrong: ${JSON.stringify(said.sums)}`)
  return {
    what: "1,000,000 sales reckoned from nothing",
    against: `the journal: ${(eur!.booked / 100).toFixed(2)} both`,
    ...timed(took * 1_000, 60_000, "query"),
  }
}
