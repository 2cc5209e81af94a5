// A school for a server test: a database of its own, a clock that stands still until it is moved, and a mailer that keeps
// what it is given or behaves as badly as it is told to.
import { mkdtempSync, rmSync } from "node:fs"
import { tmpdir } from "node:os"
import { join } from "node:path"
import pino from "pino"
import { inject } from "vitest"
import { newRow } from "@/core/course/outline"
import { nobody } from "@/core/person/actor"
import { words } from "@/core/words/en"
import { configFromEnvironment } from "@/server/config"
import type { Context } from "@/server/context"
import { readOutline, saveOutline } from "@/server/course/outline"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { joinFunnel } from "@/server/funnel/join"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { wiring } from "@/server/listeners"
import { makeOwner } from "@/server/person/account"
import { type Mailer, type MailTrouble, type Message, smtpMailer } from "@/server/port/mailer"
import { verifyId } from "@/server/sign"

export type TestSchool = {
  readonly s: Context
  readonly sent: Message[]
  readonly url: string
  readonly env: NodeJS.ProcessEnv
  /** What the mailer does instead of keeping a message. */
  misbehave(how: ((m: Message) => Promise<void> | MailTrouble | undefined) | null): void
  /** Business time, ms. */
  at(): number
  set(iso: string | number): void
  end(): Promise<void>
}

/** Where a test's dates are written out, its school begins here, whatever `--on` says. */
export const thatTuesday = "2026-11-24T09:00:00Z"

export async function testSchool(
  name: string,
  options: { smtp?: string; leaseMs?: number; start?: string } = {},
): Promise<TestSchool> {
  const root = new URL(inject("databaseUrl"))
  const admin = openDatabase(root.href, 1)
  const database = `heron_${name.replace(/\W/g, "_")}`
  await admin.write(`DROP DATABASE IF EXISTS \`${database}\``)
  await admin.write(`CREATE DATABASE \`${database}\` CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`)
  await admin.end()
  root.pathname = `/${database}`
  const folder = mkdtempSync(join(tmpdir(), "heron-test-"))
  const env: NodeJS.ProcessEnv = {
    ...process.env,
    DATABASE_URL: root.href,
    HERON_MODE: "test",
    HERON_DATA: folder,
    HERON_ORIGIN: "http://localhost:4799",
    HERON_SECRET: "a secret of the tests",
    HERON_INSTALLATION: "test",
    HERON_LEASE_MS: String(options.leaseMs ?? 60_000),
    SMTP_URL: options.smtp ?? "",
  }
  const config = configFromEnvironment(env)
  const db = openDatabase(root.href, 12, undefined, wiring)
  await migrate(db)
  let now = Date.parse(options.start ?? process.env.HERON_ON ?? thatTuesday)
  const sent: Message[] = []
  let how: Parameters<TestSchool["misbehave"]>[0] = null
  const keeping: Mailer = {
    async send(m) {
      const trouble = await how?.(m)
      if (trouble) throw trouble
      sent.push(m)
    },
    server: "mail.example:587",
    verify: async () => null,
    close: () => {},
  }
  const s: Context = {
    db,
    config,
    clock: { now: async () => now },
    cards: null,
    meeting: null,
    mailer: options.smtp ? smtpMailer(options.smtp) : keeping,
    log: pino({ level: "silent" }),
    actor: nobody,
    releases: db.context.releases,
    words,
  }
  return {
    s,
    sent,
    url: root.href,
    env,
    misbehave: (h) => {
      how = h
    },
    at: () => now,
    set: (t) => {
      now = typeof t === "number" ? t : Date.parse(t)
    },
    async end() {
      s.mailer.close()
      await db.end()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

/** A school with an owner, a live three-lesson course and its published funnel. */
export async function openSchool(
  t: TestSchool,
): Promise<{ funnel: number; release: number; course: number; path: string }> {
  const { s } = t
  const made = await makeOwner(s, {
    school: "Juniper Crock",
    name: "Maren",
    email: "maren@crock.example",
    password: "brine before breakfast",
  })
  if ("refused" in made) throw new Error(made.refused)
  const at = new Date(t.at())
  const course = (
    await s.db.write(
      "INSERT INTO course (slug, title, promise, teacher, state, made_at, changed_at) VALUES ('first', 'First', 'A promise', 'Maren', 'live', ?, ?)",
      [at, at],
    )
  ).id
  for (let i = 1; i <= 3; i++)
    await s.db.write(
      "INSERT INTO lesson (course_id, position, title, body, minutes, state) VALUES (?, ?, ?, '<p>Text</p>', 5, 'live')",
      [course, i, `Lesson ${i}`],
    )
  const funnel = await newFunnel(s, { goal: "mini-course", course })
  if ("refused" in funnel) throw new Error(funnel.refused)
  const published = await publishFunnel(s, funnel.funnel)
  if ("refused" in published) throw new Error(published.refused)
  return {
    funnel: funnel.funnel,
    release: published.release,
    course,
    path: (await loadFunnel(s.db, funnel.funnel))!.steps[0]!.path,
  }
}

let visitors = 0
export const someVisitor = () => Buffer.from(`visitor-${String(++visitors).padStart(8, "0")}`)

export function join_(
  t: TestSchool,
  school: { release: number; path: string },
  email: string,
  more: Partial<{
    name: string
    zone: string
    website: string
    ip: string
    visitor: Buffer
    release: string
    answers: Record<number, string>
  }> = {},
) {
  return joinFunnel(
    t.s,
    {
      release: more.release ?? String(school.release),
      email,
      name: more.name ?? "Ines",
      zone: more.zone ?? "Europe/Oslo",
      website: more.website ?? "",
      answers: more.answers ?? {},
    },
    { path: school.path, ip: more.ip ?? "192.0.2.1", visitor: more.visitor ?? someVisitor(), source: "letter" },
  )
}

/** The last mail that went to an address. Others may be due at the same time, and lanes send them in no order. */
export function lastTo(t: TestSchool, address: string): Message {
  const found = t.sent.findLast((m) => m.to.address === address)
  if (!found) throw new Error(`Nothing went to ${address}.`)
  return found
}

/** The id in the signed link of a message, as the press would send it. */
export function linkId(t: TestSchool, m: Message, purpose: "confirm" | "way-in" | "leave"): number {
  const path = purpose === "leave" ? "mails" : purpose
  const token = new RegExp(`/${path}/([\\w.-]+)`).exec(m.text)?.[1] ?? ""
  const id = verifyId(t.s.config.secret, purpose, token)
  if (id === null) throw new Error(`no ${purpose} link in the message`)
  return id
}

/** Writes one more lesson at the end of a course; gives its number. */
export async function addLesson(s: Context, course: number, title: string, live = false): Promise<number> {
  const rows = [...(await readOutline(s.db, course)), { ...newRow("added", "lesson", title), live }]
  const saved = await saveOutline(s, { course, rows, known: [] })
  if ("refused" in saved) throw new Error(saved.refused)
  return saved.rows.find((r) => r.key === "added")!.id!
}
