// Courses: what may be opened, the shelf and a lesson of a large school, letting many in, and an outline of 500 lessons.
import pino from "pino"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { mayOpen } from "@/core/course/may-open"
import { atOnce } from "@/core/course/opens"
import * as edit from "@/core/course/outline"
import { newRow } from "@/core/course/outline"
import type { CoursePlan } from "@/core/course/plan"
import { nobody } from "@/core/person/actor"
import { words } from "@/core/words/en"
import { configFromEnvironment } from "@/server/config"
import type { Context } from "@/server/context"
import { openLesson } from "@/server/course/in-lesson"
import { myCourses } from "@/server/course/learn"
import { letPeopleIn } from "@/server/course/let-in"
import { readOutline, saveOutline } from "@/server/course/outline"
import { migrate } from "@/server/db/migrate"
import { type Database, openDatabase } from "@/server/db/pool"
import { wiring } from "@/server/listeners"
import { loader } from "./load-data"
import { type Line, median, quantile } from "./report"
import { timed } from "./yardstick"

const day = 86_400_000
const now = Date.parse("2026-11-25T12:00:00Z")
const people = 100_000
const courses = 10
const lessonsEach = 30

export async function benchCourses(folder: string): Promise<Line[]> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const db = openDatabase(mariadb.url, 8, 600_000, wiring)
  try {
    await migrate(db)
    await fill(db)
    const s: Context = {
      db,
      clock: { now: async () => now },
      config: { ...configFromEnvironment(), secret: "bench" },
      mailer: { server: "", send: async () => ({}) as never, check: async () => null, close: () => {} } as never,
      cards: null,
      meeting: null,
      log: pino({ level: "silent" }),
      actor: nobody,
      releases: db.context.releases,
      words,
    }
    return [
      decisions(false),
      decisions(true),
      ...(await shelfAndLesson(s)),
      ...(await letting(s, mariadb.url)),
      ...(await outline(s)),
    ]
  } finally {
    await db.end()
    await mariadb.stop()
  }
}

/** A hundred lessons of 300 for each of 3,000 people, all in zones and from days of their own. */
function decisions(inOrder: boolean): Line {
  const zones = Intl.supportedValuesOf("timeZone")
  const plan = (k: number): CoursePlan => ({
    opens: atOnce,
    starts: null,
    inOrder,
    modules: Array.from({ length: 12 }, (_, i) => ({
      id: i + 1,
      opens: { kind: "after-days", days: i * 7, at: "06:00" },
    })),
    lessons: Array.from({ length: 300 }, (_, i) => ({
      id: i + 1,
      module: Math.floor(i / 25) + 1,
      opens: i % 10 === k ? { kind: "on-date", date: "2026-12-24", at: "18:00" } : null,
      free: i === 0,
      required: i % 3 === 0,
    })),
  })
  const plans = [
    { from: 0, plan: plan(3) },
    { from: now - 30 * day, plan: plan(4) },
  ]
  const askings = Array.from({ length: 3000 }, (_, i) => ({
    known: true,
    openToAll: false,
    zone: zones[i % zones.length]!,
    at: now,
    plans,
    progress: {
      seen: new Map<number, number>(),
      done: new Map(Array.from({ length: i % 300 }, (_, j) => [j + 1, now - day] as const)),
    },
    admissions: [{ module: null, from: now - ((i * 977) % 90) * day - i * 1000, until: null }],
  }))
  let n = 0
  let open = 0
  const began = performance.now()
  for (const a of askings)
    for (let l = 1; l <= 300; l += 3) {
      n++
      if (mayOpen(a, l).open) open++
    }
  const rate = n / ((performance.now() - began) / 1000)
  return {
    what: `decisions a second${inOrder ? ", in order" : ""}`,
    ours: Math.round(rate).toLocaleString("en-GB"),
    against: `${n.toLocaleString("en-GB")} asked, ${open.toLocaleString("en-GB")} open`,
    wanted: "100,000 on one core",
  }
}

async function fill(db: Database): Promise<void> {
  await db.write(
    "INSERT INTO school (id, name, sender_name, sender_email, zone) VALUES (1, 'S', 'S', 's@x.example', 'UTC')",
  )
  for (let from = 0; from < people; from += 5000)
    await db.write("INSERT INTO person (id, name, email, zone, joined_at, source, searched) VALUES ?", [
      Array.from({ length: 5000 }, (_, k) => {
        const i = from + k + 1
        return [i, `P ${i}`, `p${i}@x.example`, "Europe/Zagreb", new Date(now - day), "bench", `p ${i}`]
      }),
    ])
  const text = "<p>Salt, water, cabbage, and the patience to leave it alone.</p>".repeat(20)
  for (let c = 1; c <= courses; c++) {
    await db.write(
      "INSERT INTO course (id, slug, title, state, made_at, changed_at) VALUES (?, ?, ?, 'live', NOW(), NOW())",
      [c, `course-${c}`, `Course ${c}`],
    )
    await db.write("INSERT INTO module (id, course_id, position, title, opens) VALUES ?", [
      [1, 2, 3].map((m) => [
        c * 10 + m,
        c,
        m * 100,
        `Module ${m}`,
        JSON.stringify({ kind: "after-days", days: m * 7, at: "06:00" }),
      ]),
    ])
    await db.write("INSERT INTO lesson (course_id, module_id, position, title, body, minutes, state) VALUES ?", [
      Array.from({ length: lessonsEach }, (_, i) => [
        c,
        c * 10 + 1 + Math.floor(i / 10),
        (1 + Math.floor(i / 10)) * 100 + i,
        `Lesson ${i}`,
        text,
        5,
        "live",
      ]),
    ])
  }
  // A million admissions: ten for each person, begun on days of their own.
  for (let c = 1; c <= courses; c++)
    await db.write(
      "INSERT INTO admission (person_id, course_id, origin, from_at) SELECT id, ?, CONCAT('funnel:', ?), ? - INTERVAL (id % 40) DAY FROM person",
      [c, c, new Date(now)],
    )
  await db.write(
    "INSERT INTO lesson_done (person_id, lesson_id, at) SELECT p.id, l.id, ? FROM person p JOIN lesson l ON l.position < 104 WHERE p.id % 10 = 0",
    [new Date(now - day)],
  )
  await db.rows("ANALYZE TABLE person, admission, lesson, lesson_done")
}

/** Fifty requests a second, spread evenly, each by somebody else. */
async function paced(work: (i: number) => Promise<unknown>, n = 300): Promise<number[]> {
  await work(0)
  const taken: number[] = []
  const began = performance.now()
  await Promise.all(
    Array.from({ length: n }, async (_, i) => {
      await new Promise((r) => setTimeout(r, i * 20))
      const start = performance.now()
      await work(i)
      taken.push(performance.now() - start)
    }),
  )
  if (performance.now() - began > n * 20 + 5000) taken.push(Number.POSITIVE_INFINITY)
  return taken
}

async function shelfAndLesson(s: Context): Promise<Line[]> {
  const who = (i: number) => ({ person: ((i * 7919) % people) + 1, scope: null })
  const first = await s.db.rows<{ id: number }>("SELECT id FROM lesson WHERE course_id = 3 ORDER BY position LIMIT 3")
  const shelf = await paced((i) => myCourses(s, who(i)))
  const lesson = await paced((i) => openLesson(s, who(i), "course-3", first[i % 3]!.id))
  const line = (what: string, taken: number[]): Line => ({
    what,
    against: `${median(taken).toFixed(0)} ms in the middle`,
    ...timed(quantile(taken, 0.95), 60, "query"),
  })
  return [
    line(`the shelf, ${courses} courses of 1,000,000 admissions`, shelf),
    line(`a lesson of ${courses * lessonsEach}`, lesson),
  ]
}

/** A hundred thousand lines of CSV against LOAD DATA LOCAL INFILE of the same: into one table, and of the rows that come of them. */
async function letting(s: Context, url: string): Promise<Line[]> {
  const rows = 100_000
  const csv = `email,name\n${Array.from({ length: rows }, (_, i) => `new${i}@x.example,New ${i}`).join("\n")}\n`
  const began = performance.now()
  const done = await letPeopleIn(s, { course: 1, people: csv, until: null, tells: false, batch: "0123456789ab" })
  const ours = rows / ((performance.now() - began) / 1000)
  if ("refused" in done || done.results.some((r) => r.came !== "new")) throw new Error("not all were let in")

  const load = await loader(s.db, url)
  await s.db.write(
    "CREATE TABLE loaded (email VARCHAR(320) NOT NULL, name VARCHAR(120) NOT NULL, UNIQUE KEY (email)) COLLATE utf8mb4_bin",
  )
  const one = rows / ((await load.file("loaded (email, name)", csv, "IGNORE 1 LINES")) / 1000)
  // The rows that letting them in has written, taken out, and put into tables of the same making.
  let ms = 0
  for (const table of ["person", "address", "admission", "presence", "fact"]) ms += await load.copy(table)
  await load.end()
  const same = rows / (ms / 1000)
  return [
    { what: "100,000 members by CSV, let in, a second", ours: ours.toFixed(0), wanted: "for the record" },
    {
      what: "the same against LOAD DATA of the rows they come to",
      ours: ours.toFixed(0),
      against: same.toFixed(0),
      ratio: (ours / same).toFixed(2),
      wanted: "at least 0.25",
    },
    {
      what: "the same against LOAD DATA of the lines into one table",
      ours: ours.toFixed(0),
      against: one.toFixed(0),
      ratio: (ours / one).toFixed(2),
      wanted: "for the record: it writes a fifth of the rows",
    },
  ]
}

async function outline(s: Context): Promise<Line[]> {
  const course = (
    await s.db.write(
      "INSERT INTO course (slug, title, state, made_at, changed_at) VALUES ('long', 'Long', 'live', NOW(), NOW())",
    )
  ).id
  const rows = Array.from({ length: 500 }, (_, i) => ({
    ...newRow(`r${i}`, i % 25 ? "lesson" : "module", `Row ${i}`),
    live: true,
  }))
  const began = performance.now()
  await saveOutline(s, { course, rows, known: [] })
  const made = performance.now() - began
  const stored = await readOutline(s.db, course)
  const known = stored.map((r) => r.key)
  const keys = stored.map((r) => r.key)
  const taken: number[] = []
  const pure: number[] = []
  for (let i = 0; i < 7; i++) {
    const picked = new Set(keys.slice(i * 50 + 1, i * 50 + 51))
    const start = performance.now()
    const moved = edit.moveBefore(stored, picked, keys[(i * 50 + 250) % 500]!)
    pure.push(performance.now() - start)
    const saving = performance.now()
    await saveOutline(s, { course, rows: moved, known })
    taken.push(performance.now() - saving)
  }
  return [
    { what: "500 rows of an outline, made", ours: `${made.toFixed(0)} ms`, wanted: "for the record" },
    { what: "50 of 500 moved, reckoned", ours: `${median(pure).toFixed(2)} ms`, wanted: "for the record" },
    { what: "50 of 500 moved, saved", ...timed(median(taken), 200, "write") },
  ]
}
