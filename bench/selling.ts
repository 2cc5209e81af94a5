// Selling under load: a rush for a few seats, renewals due in one minute, a further offer accepted, a long journal. The card
// processor stand-in answers in its own process over loopback; its own time is taken off where that is said.
import { type ChildProcess, spawn } from "node:child_process"
import { once } from "node:events"
import { readFileSync } from "node:fs"
import { join } from "node:path"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { testCards } from "@/core/offer/card"
import type { Terms } from "@/core/offer/terms"
import { configFromEnvironment } from "@/server/config"
import { type Context, closeContext } from "@/server/context"
import { migrate } from "@/server/db/migrate"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { balanceAt, rollJournal } from "@/server/ledger/balance"
import { acceptOffer, offeredTo } from "@/server/ledger/further"
import { orderByCode } from "@/server/ledger/order"
import { type CheckoutForm, checkoutIn, choiceOf, placeOrder } from "@/server/ledger/place"
import { renewDue } from "@/server/ledger/renew"
import { saveOffer } from "@/server/offer/offer"
import { quote, shelfOf } from "@/server/offer/quote"
import { openContext } from "@/server/open"
import { makeOwner } from "@/server/person/account"
import type { CardProcessor } from "@/server/port/cards"
import { releaseById } from "@/server/releases"
import { type Line, median, quantile } from "./report"
import { timed } from "./yardstick"

const key = "bench"
const hookSecret = `whsec_${Buffer.from("a secret of the benchmark, long enough").toString("base64")}`
const seats = 10
const buyers = 500
const renewals = 1_000
const accepted = 300
const journalRows = 1_000_000

export async function benchSelling(folder: string): Promise<Line[]> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const processor = await startProcessor(folder, mariadb.url)
  const s = openContext(configFromEnvironment(environment(folder, mariadb.url, processor.url)), "bench")
  try {
    await migrate(s.db)
    await makeOwner(s, { school: "Bench", name: "B", email: "b@bench.example", password: "brine before breakfast" })
    await s.db.write("UPDATE school SET zone = 'Europe/Oslo', statement = 'BENCH SCHOOL', tax_rate = 2500")
    return [
      ...(await rush(s, processor.url)),
      ...(await further(s, processor.url)),
      ...(await renewing(s, folder, mariadb.url, processor.url)),
      ...(await books(s)),
    ]
  } finally {
    await closeContext(s)
    processor.child.kill("SIGTERM")
    await mariadb.stop()
  }
}

function environment(folder: string, database: string, cards: string): NodeJS.ProcessEnv {
  return {
    ...process.env,
    DATABASE_URL: database,
    HERON_MODE: "test",
    HERON_DATA: folder,
    HERON_INSTALLATION: "bench",
    HERON_LEASE_MS: "2000",
    HERON_TEST_CARDS_URL: cards,
    HERON_TEST_CARDS_KEY: key,
    HERON_TEST_CARDS_HOOK_SECRET: hookSecret,
  }
}

async function startProcessor(folder: string, database: string): Promise<{ child: ChildProcess; url: string }> {
  const child = spawn(process.execPath, ["--import", "tsx", "src/standins/processor/main.ts"], {
    env: { ...environment(folder, database, "http://localhost:1"), HERON_CARDS_PORT: "0", HERON_PORT: "9" },
    stdio: ["ignore", "inherit", "inherit", "ipc"],
  })
  const [said] = (await once(child, "message")) as [{ ready: number }]
  return { child, url: `http://localhost:${said.ready}` }
}

type Sold = { readonly release: number; readonly path: string; readonly further: number }

/** A course, its offer with these terms and this many pieces, and a funnel with one further offer. */
async function sell(s: Context, name: string, terms: Terms, pieces: number | null): Promise<Sold> {
  const at = new Date()
  const slug = name.toLowerCase()
  const course = await s.db.write(
    "INSERT INTO course (slug, title, promise, teacher, state, made_at, changed_at) VALUES (?, ?, '', '', 'live', ?, ?)",
    [slug, name, at, at],
  )
  await s.db.write(
    "INSERT INTO lesson (course_id, position, title, body, minutes, state) VALUES (?, 1, 'One', '', 1, 'live')",
    [course.id],
  )
  const offer = async (publicName: string, t: Terms, n: number | null, gives: "course" | "post") => {
    const done = await saveOffer(s, {
      id: null,
      publicName,
      internalName: "",
      promise: "",
      pictureId: null,
      currency: "EUR",
      gifts: gives === "course" ? [{ kind: "course", course: course.id }] : [{ kind: "post", title: "A jar" }],
      terms: [{ id: null, name: "", terms: t }],
      pieces: n,
      perPerson: null,
      from: null,
      until: null,
      hidden: false,
      afterFailure: "ends",
    })
    if ("refused" in done) throw new Error(done.refused)
    return done.id
  }
  const main = await offer(name, terms, pieces, "course")
  const extra = await offer(`${name} extra`, { kind: "full", amount: 900 }, null, "post")
  const funnel = await newFunnel(s, { goal: "sell-course", offer: main, further: extra, second: null })
  if ("refused" in funnel) throw new Error(funnel.refused)
  const published = await publishFunnel(s, funnel.funnel, true)
  if ("refused" in published) throw new Error(published.refused)
  const step = await s.db.row<{ id: number }>("SELECT id FROM step WHERE funnel_id = ? AND kind = 'further'", [
    funnel.funnel,
  ])
  return { release: published.release, path: `${slug}/checkout`, further: step!.id }
}

let made = 0
async function formOf(s: Context, sold: Sold, cards: string): Promise<CheckoutForm> {
  const place = checkoutIn((await releaseById(s.db, sold.release))!, sold.path)!
  const email = `buyer${++made}@bench.example`
  const choice = { terms: null, bumps: [], code: "" }
  const q = await quote(s.db, await shelfOf(s.db), choiceOf(place, choice, email), await s.clock.now())
  const answer = await fetch(`${cards}/tokens`, {
    method: "POST",
    body: JSON.stringify({ number: testCards.fine.number, expires: "12/39", code: "123" }),
  })
  return {
    ...choice,
    once: `form-${String(made).padStart(20, "0")}`,
    release: String(sold.release),
    email,
    name: "B",
    postal: "1 Street, Town, Country",
    zone: "Europe/Oslo",
    website: "",
    consent: false,
    again: false,
    card: ((await answer.json()) as { token: string }).token,
    seen: q?.seen ?? "",
  }
}

const from = (sold: Sold, n: number) => ({
  path: sold.path,
  ip: `192.0.2.${n % 200}`,
  visitor: Buffer.from(`bench-${String(made).padStart(5, "0")}-${String(n).padStart(4, "0")}`),
  source: "bench",
})

/** Everybody at once for a few seats. */
async function rush(s: Context, cards: string): Promise<Line[]> {
  const sold = await sell(s, "Rush", { kind: "full", amount: 10_000 }, seats)
  const forms: CheckoutForm[] = []
  for (let i = 0; i < buyers; i++) forms.push(await formOf(s, sold, cards))
  const began = performance.now()
  const placed = await Promise.allSettled(forms.map((f, i) => placeOrder(s, f, from(sold, i))))
  const took = performance.now() - began
  const errors = placed.filter((p) => p.status === "rejected").length
  const told = placed.filter((p) => p.status === "fulfilled" && "says" in p.value).length
  const paid = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM orders WHERE state = 'paid'")
  const charged = await s.db.row<{ n: number }>("SELECT COUNT(*) AS n FROM charge WHERE state = 'succeeded'")
  return [
    {
      what: `${buyers} buyers at once for ${seats} seats: sold`,
      ours: String(paid?.n),
      against: `${charged?.n} charged, ${told} told it is sold out, ${errors} errors`,
      wanted: `${seats} sold and charged, no error`,
    },
    { what: "until the last of them knew", ours: `${(took / 1000).toFixed(1)} s`, wanted: "for the record" },
  ]
}

/** One click on a further offer: the server's time, without what the processor took. */
async function further(s: Context, cards: string): Promise<Line[]> {
  const sold = await sell(s, "Further", { kind: "full", amount: 10_000 }, null)
  let theirs = 0
  const clocked: Context = {
    ...s,
    cards: {
      ...(s.cards as CardProcessor),
      pay: async (p) => {
        const began = performance.now()
        const answer = await s.cards!.pay(p)
        theirs = performance.now() - began
        return answer
      },
    },
  }
  const taken: number[] = []
  for (let i = 0; i < accepted; i++) {
    const placed = await placeOrder(s, await formOf(s, sold, cards), from(sold, i))
    if (!("goTo" in placed)) throw new Error(JSON.stringify(placed))
    const order = (await orderByCode(s.db, placed.goTo.split("/").at(-1)!))!
    const offered = await offeredTo(s, order, sold.further)
    if (!("quote" in offered)) throw new Error(JSON.stringify(offered))
    const began = performance.now()
    await acceptOffer(clocked, order.code, sold.further, offered.quote.seen)
    taken.push(performance.now() - began - theirs)
  }
  return [
    {
      what: "accepting a further offer, without the processor's time",
      against: `${median(taken).toFixed(0)} ms in the middle`,
      ...timed(quantile(taken, 0.95), 60, "write"),
    },
  ]
}

/** A thousand plans fall due in the same minute; two workers, one of them killed in the middle. */
async function renewing(s: Context, folder: string, database: string, cards: string): Promise<Line[]> {
  const sold = await sell(
    s,
    "Monthly",
    { kind: "subscription", upFront: 0, trial: null, amount: 1_900, every: { unit: "month", count: 1 }, times: null },
    null,
  )
  const placed = await placeOrder(s, await formOf(s, sold, cards), from(sold, 0))
  if (!("goTo" in placed)) throw new Error(JSON.stringify(placed))
  const order = (await orderByCode(s.db, placed.goTo.split("/").at(-1)!))!
  // The one plan a thousand times over, all due a minute ago.
  await s.db.write(
    `INSERT INTO order_line (order_id, offer_id, role, name, plan, gross) SELECT l.order_id, l.offer_id, l.role, l.name, l.plan, l.gross FROM order_line l JOIN seq_1_to_${renewals} WHERE l.order_id = ?`,
    [order.id],
  )
  await s.db.write(
    "INSERT IGNORE INTO plan (order_line_id, order_id, person_id, card_id, state, next_n, next_due, try_at) SELECT l.id, p.order_id, p.person_id, p.card_id, 'running', 1, ?, ? FROM order_line l JOIN plan p ON p.order_id = l.order_id WHERE l.order_id = ?",
    [new Date(Date.now() - 60_000), new Date(Date.now() - 60_000), order.id],
  )
  const env = environment(folder, database, cards)
  const work = () => spawn(process.execPath, ["--import", "tsx", "src/worker/main.ts"], { env, stdio: "ignore" })
  const done = async () =>
    (await s.db.row<{ n: number }>(
      "SELECT COUNT(*) AS n FROM charge WHERE plan_id IS NOT NULL AND state = 'succeeded'",
    ))!.n
  const began = performance.now()
  const [one, two] = [work(), work()]
  while ((await done()) < renewals / 3) await new Promise((r) => setTimeout(r, 50))
  one.kill("SIGKILL")
  while ((await done()) < renewals && performance.now() - began < 120_000) {
    await renewDue(s)
    await new Promise((r) => setTimeout(r, 100))
  }
  const took = performance.now() - began
  two.kill("SIGTERM")
  await once(two, "exit")
  const payments = await s.db.row<{ n: number; once: number }>(
    "SELECT COUNT(*) AS n, COUNT(DISTINCT plan_id, n) AS once FROM charge WHERE plan_id IS NOT NULL AND state = 'succeeded'",
  )
  // What the processor itself has charged, by its own file: a card charged twice would stand there twice.
  const lines = readFileSync(join(folder, "processor", "processor.jsonl"), "utf8")
    .trim()
    .split("\n")
  const theirs = lines
    .map((l) => JSON.parse(l) as { kind: string; value: { key: string; state: string } })
    .filter((k) => k.kind === "payment" && k.value.state === "succeeded" && k.value.key.startsWith("bench-plan-"))
  return [
    {
      what: `${renewals} renewals, two workers, one killed: charged once`,
      ours: String(payments?.once),
      against: `${payments?.n} charges, ${theirs.length} at the processor`,
      wanted: `${renewals} each`,
    },
    { what: "until the last was charged", ours: `${(took / 1000).toFixed(1)} s`, wanted: "for the record" },
  ]
}

/** A million lines in the journal, three years long. */
async function books({ db, ...s }: Context): Promise<Line[]> {
  const story = (await db.row<{ id: number; charge: number }>(
    "SELECT c.order_id AS id, c.id AS charge FROM charge c LIMIT 1",
  ))!
  const start = Date.parse("2024-01-01T00:00:00Z")
  for (let part = 0; part < journalRows / 4 / 50_000; part++)
    for (const [account, amount] of [
      ["cards", 12_500],
      ["income", -10_000],
      ["tax", -2_500],
      ["refunds", 0],
    ] as const)
      await db.write(
        `INSERT INTO journal (once, at, order_id, charge_id, account, amount, currency, recorded_at)
         SELECT CONCAT('bench:${part}:${account}:', seq), FROM_UNIXTIME(? + (seq * 5 + ?) * 378), ?, ?, ?, ?, 'EUR', '2020-01-01' FROM seq_1_to_50000`,
        [start / 1000, part, story.id, story.charge, account, amount],
      )
  const rolling = performance.now()
  while ((await rollJournal({ db, ...s }, 0)) > 0);
  const rolled = performance.now() - rolling
  await db.rows("ANALYZE TABLE journal")
  const taken: number[] = []
  for (const day of ["2024-01-02", "2024-08-15", "2025-06-30", "2026-02-28", "2026-12-31"]) {
    const began = performance.now()
    const balance = await balanceAt(db, Date.parse(day))
    taken.push(performance.now() - began)
    if (balance.reduce((sum, b) => sum + b.amount, 0) !== 0) throw new Error("the books don't add up")
  }
  return [
    {
      what: "any day's balance of 1,000,000 journal lines",
      against: `${median(taken).toFixed(0)} ms in the middle`,
      ...timed(Math.max(...taken), 200, "query"),
    },
    { what: "summing a million lines up, once", ours: `${(rolled / 1000).toFixed(1)} s`, wanted: "for the record" },
  ]
}
