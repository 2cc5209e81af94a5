// Webinars: a room with 300 listeners, a rush for seats, what came of a date with ten thousand people, the curve of a million beats, and a
// month of the calendar.
import { type ChildProcess, spawn } from "node:child_process"
import { readFileSync } from "node:fs"
import { get, type IncomingMessage } from "node:http"
import pino from "pino"
import { freePort, openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { nobody } from "@/core/person/actor"
import { beatEvery, curveOf, presenceOf, settledAfter, staysOf } from "@/core/webinar/attendance"
import { words } from "@/core/words/en"
import { entriesBetween } from "@/server/calendar/entries"
import { type Config, configFromEnvironment } from "@/server/config"
import type { Context } from "@/server/context"
import { migrate } from "@/server/db/migrate"
import { type Database, openDatabase } from "@/server/db/pool"
import { joinFunnel } from "@/server/funnel/join"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { wiring } from "@/server/listeners"
import { saveOffer } from "@/server/offer/offer"
import { makeOwner } from "@/server/person/account"
import { sign } from "@/server/sign"
import { whatCame } from "@/server/webinar/came"
import { endedDates } from "@/server/webinar/stay"
import { sayAsHost } from "@/server/webinar/talk"
import { newWebinarOf, saveWebinar } from "@/server/webinar/webinar"
import { type Line, median, quantile } from "./report"
import { timed } from "./yardstick"

const start = Date.parse("2026-12-03T19:00:00Z")
const hour = 3_600_000

type Bench = {
  readonly s: Context
  readonly at: (ms: number) => void
  readonly env: NodeJS.ProcessEnv
  readonly webinar: number
  readonly funnel: number
  readonly release: number
  readonly date: number
}

export async function benchWebinar(folder: string): Promise<Line[]> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const db = openDatabase(mariadb.url, 16, 600_000, wiring)
  try {
    await migrate(db)
    const b = await fill(db, mariadb.url, folder)
    return [...(await rush(b)), ...(await settling(b)), curve(), ...(await calendar(b)), ...(await room(b))]
  } finally {
    await db.end()
    await mariadb.stop()
  }
}

async function fill(db: Database, url: string, folder: string): Promise<Bench> {
  let now = start - 10 * 24 * hour
  const env: NodeJS.ProcessEnv = {
    ...process.env,
    DATABASE_URL: url,
    HERON_MODE: "test",
    HERON_DATA: folder,
    HERON_SECRET: "a secret of the bench, long enough",
    HERON_INSTALLATION: "bench",
    HERON_ORIGIN: "http://localhost:4790",
  }
  const config: Config = configFromEnvironment(env)
  const s: Context = {
    db,
    clock: { now: async () => now },
    config,
    mailer: { server: "", send: async () => {}, verify: async () => null, close: () => {} },
    cards: null,
    meeting: null,
    log: pino({ level: "silent" }),
    actor: nobody,
    releases: db.context.releases,
    words,
  }
  const well = <T extends object>(done: T): Exclude<T, { refused: string }> => {
    if ("refused" in done) throw new Error(String(done.refused))
    return done as Exclude<T, { refused: string }>
  }
  await makeOwner(s, { school: "Bench", name: "B", email: "b@bench.example", password: "brine before breakfast" })
  const course = await db.write(
    "INSERT INTO course (slug, title, promise, teacher, state, made_at, changed_at) VALUES ('c', 'Course', '', '', 'live', ?, ?)",
    [new Date(now), new Date(now)],
  )
  await db.write(
    "INSERT INTO lesson (course_id, position, title, body, minutes, state) VALUES (?, 1, 'One', '<p>x</p>', 5, 'live')",
    [course.id],
  )
  const offer = well(
    await saveOffer(s, {
      id: null,
      publicName: "Course",
      internalName: "",
      promise: "",
      pictureId: null,
      currency: "EUR",
      gifts: [{ kind: "course", course: course.id }],
      terms: [{ id: null, name: "", terms: { kind: "full", amount: 29_000 } }],
      pieces: null,
      perPerson: null,
      from: null,
      until: null,
      hidden: false,
      afterFailure: "ends",
    }),
  )
  const film = await db.write(
    "INSERT INTO media (kind, type, name, stored, size, seconds, made_at) VALUES ('video', 'video/mp4', 'f.mp4', 'f.mp4', 1, 3600, ?)",
    [new Date(now)],
  )
  const webinar = well(await newWebinarOf(s, "Bench")).id
  await saveWebinar(s, webinar, {
    zone: "UTC",
    host: "B",
    seats: 500,
    offer: offer.id,
    recording: film.id,
    when: {
      kind: "dates",
      dates: [
        { date: "2026-12-03", at: 1140 },
        { date: "2026-12-10", at: 1140 },
      ],
    },
  })
  const funnel = well(await newFunnel(s, { goal: "fill-webinar", webinar })).funnel
  const published = await publishFunnel(s, funnel, true)
  if ("refused" in published) throw new Error(published.refused)
  const date = await db.row<{ id: number }>("SELECT id FROM webinar_date WHERE webinar_id = ? ORDER BY starts_at", [
    webinar,
  ])
  return { s, at: (ms) => (now = ms), env, webinar, funnel, release: published.release, date: date!.id }
}

/** Two thousand people want one of five hundred seats at once, through the form's own use case. */
async function rush(b: Bench): Promise<Line[]> {
  const path = (await b.s.db.row<{ path: string }>(
    "SELECT path FROM step WHERE funnel_id = ? AND kind = 'registration'",
    [b.funnel],
  ))!.path
  const asked = Array.from({ length: 2_000 }, (_, i) => i)
  let full = 0
  const began = performance.now()
  await Promise.all(
    Array.from({ length: 32 }, async () => {
      for (let i = asked.pop(); i !== undefined; i = asked.pop()) {
        const visitor = Buffer.alloc(16)
        visitor.writeUInt32BE(i + 1, 12)
        const done = await joinFunnel(
          b.s,
          {
            release: String(b.release),
            email: `p${i}@rush.example`,
            name: "P",
            zone: "UTC",
            date: String(b.date),
            website: "",
          },
          { path, ip: `10.${i >> 12}.${(i >> 4) & 255}.${i & 15}`, visitor, source: "direct" },
        )
        if ("refused" in done) full++
      }
    }),
  )
  const took = (performance.now() - began) / 1000
  const kept = await b.s.db.row<{ n: number }>(
    "SELECT COUNT(*) AS n FROM registration WHERE date_id = ? AND state IN ('held', 'registered')",
    [b.date],
  )
  await b.s.db.write("DELETE FROM registration")
  return [
    {
      what: "2,000 registrations for 500 seats",
      against: `${kept!.n} have one, ${full} were told; 500 and 1,500 wanted`,
      ...timed(took * 1_000, 30_000, "write"),
    },
  ]
}

/** Ten thousand people, each with one stay or none; and what the screen then says of them. */
async function settling(b: Bench): Promise<Line[]> {
  const { db } = b.s
  await b.s.db.write("UPDATE webinar SET seats = NULL")
  const people = 10_000
  const rows = <T>(of: (i: number) => T): T[] => Array.from({ length: people }, (_, i) => of(i + 1))
  const insert = async (into: string, all: unknown[][]) => {
    for (let i = 0; i < all.length; i += 2_000)
      await db.write(`INSERT INTO ${into} VALUES ?`, [all.slice(i, i + 2_000)])
  }
  const joined = new Date(start - 48 * hour)
  const step = await db.row<{ id: number }>("SELECT id FROM step WHERE funnel_id = ? AND kind = 'confirmation'", [
    b.funnel,
  ])
  await insert(
    "person (id, name, email, zone, joined_at, source, searched)",
    rows((i) => [i + 1_000, "P", `g${i}@bench.example`, "UTC", joined, "direct", ""]),
  )
  await insert(
    "registration (id, webinar_id, date_id, person_id, state, made_at)",
    rows((i) => [i + 10_000, b.webinar, b.date, i + 1_000, "registered", joined]),
  )
  const visitor = (i: number) => {
    const v = Buffer.alloc(16)
    v.writeUInt32BE(i + 100_000, 12)
    return v
  }
  await insert(
    "journey (funnel_id, visitor, person_id, source, begun_at, rest_step_id, rest_at, paid)",
    rows((i) => [b.funnel, visitor(i), i + 1_000, "direct", joined, step!.id, joined, 0]),
  )
  await insert(
    "stay (registration_id, device, from_at, to_at)",
    rows((i) => [i + 10_000, Buffer.alloc(8, 1), new Date(start), new Date(start + (i % 61) * 60_000)]),
  )
  b.at(start + hour + settledAfter)
  const began = performance.now()
  await endedDates.run(b.s, "bench")
  const took = (performance.now() - began) / 1000
  const done = await db.row<{ n: number; moved: number }>(
    "SELECT (SELECT COUNT(*) FROM registration WHERE date_id = ? AND came IS NOT NULL) AS n, (SELECT COUNT(*) FROM journey WHERE funnel_id = ? AND rest_step_id <> ?) AS moved",
    [b.date, b.funnel, step!.id],
  )
  const looks: number[] = []
  for (let i = 0; i < 5; i++) {
    const t = performance.now()
    await whatCame(db, b.webinar, null)
    looks.push(performance.now() - t)
  }
  return [
    {
      what: "attendance of 10,000 people settled",
      against: `${done!.n} outcomes, ${done!.moved} led on`,
      ...timed(took * 1_000, 30_000, "write"),
    },
    { what: "what came of it, 10,000 people", ours: `${median(looks).toFixed(0)} ms`, wanted: "none" },
  ]
}

/** A beat every 15 seconds from 4,200 people for an hour: a million. */
function curve(): Line {
  const within = { from: start, to: start + hour }
  const people = Array.from({ length: 4_200 }, (_, i) =>
    Array.from({ length: 240 }, (_, k) => start + k * beatEvery + (i % 15_000)),
  )
  const took: number[] = []
  let there: number[] = []
  for (let run = 0; run < 5; run++) {
    const began = performance.now()
    there = curveOf(
      people.map((beats) => presenceOf(staysOf(beats), within)),
      within,
    )
    took.push(performance.now() - began)
  }
  return {
    what: "curve of 1,008,000 beats",
    against: `${Math.max(...there)} at most`,
    ...timed(median(took), 200, "loop"),
  }
}

/** A month with five thousand dates in it. */
async function calendar(b: Bench): Promise<Line[]> {
  const month = Date.parse("2027-03-01T00:00:00Z")
  const all = Array.from({ length: 5_000 }, (_, i) => new Date(month + i * 8 * 60_000))
  for (let i = 0; i < all.length; i += 1_000)
    await b.s.db.write("INSERT INTO webinar_date (webinar_id, planned_at, starts_at, minutes) VALUES ?", [
      all.slice(i, i + 1_000).map((at) => [b.webinar, at, at, 60]),
    ])
  const took: number[] = []
  let n = 0
  for (let i = 0; i < 9; i++) {
    const began = performance.now()
    n = (await entriesBetween(b.s, month, month + 31 * 24 * hour, "Europe/Oslo")).length
    took.push(performance.now() - began)
  }
  return [
    {
      what: "a month of the calendar",
      against: `${n} entries`,
      ...timed(quantile(took, 0.95), 100, "query"),
    },
  ]
}

const listeners = 300

type Listener = {
  readonly heard: Map<number, number>
  last: string
  connected: number
  twice: number
  stop: () => void
}

/** Three hundred listen by server-sent events; then the process is killed and started again. */
async function room(b: Bench): Promise<Line[]> {
  const { db, config } = b.s
  const port = await freePort()
  const env = { ...b.env, HERON_PORT: String(port) }
  // The server's clock is its own: its room is open now.
  const now = Date.now()
  const date = await db.write(
    "INSERT INTO webinar_date (webinar_id, planned_at, starts_at, minutes) VALUES (?, ?, ?, 60)",
    [b.webinar, new Date(now), new Date(now - 60_000)],
  )
  const people = Array.from({ length: listeners }, (_, i) => i + 1)
  await db.write("INSERT INTO registration (id, webinar_id, date_id, person_id, state, made_at) VALUES ?", [
    people.map((i) => [i + 50_000, b.webinar, date.id, i + 1_000, "registered", new Date(now)]),
  ])
  let server = await serve(env)
  const all = people.map((i) => listen(port, config, i + 50_000))
  await until(() => all.every((l) => l.connected > 0))
  const sent = new Map<number, number>()
  for (let k = 0; k < 100; k++) {
    const i = 50_001 + (k % listeners)
    const began = performance.now()
    const res = await fetch(`http://127.0.0.1:${port}${pathOf(config, i)}`, {
      method: "POST",
      body: new URLSearchParams({ say: `message ${k}` }),
      headers: { cookie: cookieOf(config, i) },
    })
    if (!res.ok) throw new Error(`said: ${res.status}`)
    sent.set(k, began)
    await new Promise((r) => setTimeout(r, 60))
  }
  await until(() => all.every((l) => l.heard.size === 100))
  const last = [...sent].map(([k, began]) => Math.max(...all.map((l) => l.heard.get(k)!)) - began)
  const memory = Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, "utf8"))![1]) / 1024
  server.kill("SIGKILL")
  const before = all.map((l) => l.connected)
  await sayAsHost({ ...b.s, clock: { now: async () => Date.now() } }, date.id, "message 100")
  const began = performance.now()
  server = await serve(env)
  await until(() => all.every((l, i) => l.connected > before[i]! && l.heard.has(100)))
  const back = (performance.now() - began) / 1000
  const twice = all.reduce((n, l) => n + l.twice, 0)
  for (const l of all) l.stop()
  server.kill("SIGKILL")
  return [
    {
      what: "a message reaches the last of 300, 95th percentile",
      against: `median ${median(last).toFixed(0)} ms`,
      ...timed(quantile(last, 0.95), 500, "loop"),
    },
    { what: "memory of its process", ours: `${memory.toFixed(0)} MB`, wanted: "300 MB" },
    {
      what: "all are back after it was killed",
      against: `${all.filter((l) => l.heard.size === 101).length} have heard all, ${twice} twice; 300 and 0 wanted`,
      ...timed(back * 1_000, 10_000, "loop"),
    },
  ]
}

const pathOf = (config: Config, i: number) => `/room/${sign(config.secret, "room", String(i))}`
const cookieOf = (config: Config, i: number) =>
  `heron_bench_room=${sign(config.secret, "seat", `${i}-${i.toString(16).padStart(16, "0")}`)}`

function serve(env: NodeJS.ProcessEnv): Promise<ChildProcess> {
  return new Promise((ready) => {
    const child = spawn(process.execPath, ["--import", "tsx", "bench/room-server.ts"], {
      env,
      stdio: ["ignore", "inherit", "inherit", "ipc"],
    })
    child.once("message", () => ready(child))
  })
}

/** As a browser listens: where it is cut off it comes back a second later, and says what it had. */
function listen(port: number, config: Config, i: number): Listener {
  let stopped = false
  let res: IncomingMessage | undefined
  const l: Listener = {
    heard: new Map(),
    last: "",
    connected: 0,
    twice: 0,
    stop() {
      stopped = true
      res?.destroy()
    },
  }
  const again = () => stopped || setTimeout(connect, 1_000)
  const connect = () => {
    const headers = { cookie: cookieOf(config, i), ...(l.last ? { "last-event-id": l.last } : {}) }
    const req = get({ host: "127.0.0.1", port, path: `${pathOf(config, i)}/live`, headers, agent: false }, (r) => {
      if (r.statusCode !== 200) return again()
      res = r
      l.connected++
      let text = ""
      r.setEncoding("utf8")
      r.on("data", (chunk: string) => {
        text += chunk
        const parts = text.split("\n\n")
        text = parts.pop()!
        for (const p of parts) {
          const said = /"words":"message (\d+)"/.exec(p)
          if (!said) continue
          l.last = /^id: (\d+)/m.exec(p)?.[1] ?? l.last
          if (l.heard.has(Number(said[1]))) l.twice++
          else l.heard.set(Number(said[1]), performance.now())
        }
      })
      r.on("close", again)
      r.on("error", () => {})
    })
    req.on("error", again)
  }
  connect()
  return l
}

async function until(holds: () => boolean): Promise<void> {
  const end = Date.now() + 60_000
  while (!holds()) {
    if (Date.now() > end) throw new Error("a minute was not enough")
    await new Promise((r) => setTimeout(r, 20))
  }
}
