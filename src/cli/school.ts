// A running school: database, mailbox, worker and web, started in order and ended in the other, the database last.
import { type ChildProcess, spawn } from "node:child_process"
import { join } from "node:path"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { buildProcesses, type Process } from "./build"
import { ensureDebian } from "./debian"
import { freePort, type Installation, openInstallation, openingCode, secretFor } from "./installation"
import { type MariaDb, startMariaDb } from "./mariadb"
import { progress } from "./say"

export type Mode = "demo" | "own" | "test"

export type SchoolOptions = {
  readonly mode: Mode
  readonly folder: string
  readonly distDir: string
  /** The build of the studio, which may still be under way. */
  readonly built: Promise<void>
  readonly port: number
  readonly leaseMs?: number
  /** What is to be done once the database is up to date and nothing else runs yet. */
  readonly prepare?: (environment: NodeJS.ProcessEnv) => Promise<void>
  readonly loud?: boolean
  /** The stand-in mailbox beside a school of one's own, for trying out. */
  readonly mailbox?: boolean
}

export type School = {
  readonly origin: string
  readonly environment: NodeJS.ProcessEnv
  readonly database: MariaDb | null
  process(name: Process): ChildProcess | undefined
  stop(): Promise<void>
}

export async function startSchool(o: SchoolOptions): Promise<School> {
  // It may fail before it is waited for.
  o.built.catch(() => {})
  const installation: Installation = openInstallation(o.folder)
  const own = o.mode === "own" && process.env.DATABASE_URL
  if (own) return startOn(o, installation, own, null)
  ensureDebian("mariadb")
  if (o.loud) progress("Starting MariaDB …")
  const database = await startMariaDb(installation, o.mode === "test")
  return startOn(o, installation, database.url, database).catch(async (error) => {
    await database.stop()
    throw error
  })
}

async function startOn(
  o: SchoolOptions,
  installation: Installation,
  url: string,
  database: MariaDb | null,
): Promise<School> {
  // Bringing a large school up to date may take its time.
  const db = openDatabase(url, 2, 600_000)
  const applied = await migrate(db)
  if (applied.length) await (await import("@/server/upgrade")).upgrade(db, applied)
  if (o.loud && applied.length) progress(`Database brought up to date: ${applied.join(", ")}.`)
  await db.end()

  const port = await freePort(o.port)
  const mailbox = o.mode !== "own" || o.mailbox === true
  const smtpPort = mailbox ? await freePort() : 0
  const namesPort = o.mode === "own" ? 0 : await freePort()
  // In a school of one's own, too: everything can be tried before anything is connected.
  const cardsPort = await freePort(o.port ? o.port + 1 : 0)
  const meetingPort = await freePort(o.port ? o.port + 2 : 0)
  const origin = process.env.HERON_ORIGIN && o.mode === "own" ? process.env.HERON_ORIGIN : `http://localhost:${port}`
  const environment: NodeJS.ProcessEnv = {
    ...process.env,
    NODE_ENV: "production",
    DATABASE_URL: url,
    HERON_MODE: o.mode,
    HERON_DATA: installation.folder,
    HERON_DIST: o.distDir,
    HERON_ORIGIN: origin,
    HERON_PORT: String(port),
    HERON_SECRET: process.env.HERON_SECRET ?? installation.secret,
    HERON_INSTALLATION: installation.name,
    HERON_SMTP_PORT: String(smtpPort),
    SMTP_URL: mailbox ? `smtp://127.0.0.1:${smtpPort}` : (process.env.SMTP_URL ?? ""),
    HERON_MAILBOX: mailbox ? "1" : "0",
    ...(o.mode === "own" ? { HERON_OPENING_CODE: openingCode(installation) } : {}),
    ...(o.mode === "own"
      ? {}
      : {
          HERON_NAMES_PORT: String(namesPort),
          HERON_NAME_SERVER: `127.0.0.1:${namesPort}`,
        }),
    HERON_MEETING_PORT: String(meetingPort),
    HERON_TEST_MEETING_URL: `http://localhost:${meetingPort}`,
    HERON_TEST_MEETING_KEY: secretFor(installation, "meeting"),
    HERON_CARDS_PORT: String(cardsPort),
    HERON_TEST_CARDS_URL: `http://localhost:${cardsPort}`,
    HERON_TEST_CARDS_KEY: secretFor(installation, "cards"),
    HERON_TEST_CARDS_HOOK_SECRET: `whsec_${Buffer.from(secretFor(installation, "card hooks")).toString("base64")}`,
    ...(o.leaseMs ? { HERON_LEASE_MS: String(o.leaseMs) } : {}),
  }
  const [programOf] = await Promise.all([buildProcesses(o.distDir), o.prepare?.(environment), o.built])

  const children = new Map<string, ChildProcess>()
  let stopping = false
  const start = (name: Process) =>
    new Promise<void>((ready, failed) => {
      // In a group of its own, so that Ctrl-C reaches this process only and everything ends in order.
      const child = spawn(process.execPath, ["--enable-source-maps", programOf(name)], {
        env: environment,
        stdio: ["ignore", "inherit", "inherit", "ipc"],
        detached: true,
      })
      children.set(name, child)
      child.once("message", () => ready())
      child.once("exit", (code, signal) => {
        failed(new Error(`${name} ended with ${code ?? signal}`))
        if (stopping || children.get(name) !== child) return
        if (o.loud) progress(`${name} ended (${code ?? signal}); starting it again.`)
        setTimeout(() => !stopping && start(name).catch(() => {}), 1_000)
      })
    })
  let mending = false
  const guard = setInterval(async () => {
    const pid = database?.pid()
    if (stopping || mending || !database || (pid !== undefined && alive(pid))) return
    mending = true
    if (o.loud) progress("MariaDB ended; starting it again.")
    await database.restart().catch((e) => console.error(e))
    mending = false
  }, 1_000)
  guard.unref()

  await Promise.all([
    ...(mailbox ? [start("mailbox")] : []),
    start("processor"),
    start("meeting"),
    ...(o.mode === "own" ? [] : [start("names")]),
  ])
  await Promise.all([start("worker"), start("web")])
  return {
    origin,
    environment,
    database,
    process: (name) => children.get(name),
    async stop() {
      stopping = true
      clearInterval(guard)
      for (const name of ["web", "worker", "mailbox", "processor", "meeting", "names"]) await end(children.get(name))
      await database?.stop()
    },
  }
}

function alive(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch {
    return false
  }
}

async function end(child: ChildProcess | undefined): Promise<void> {
  if (!child || child.exitCode !== null || child.signalCode !== null) return
  const gone = new Promise<void>((done) => child.once("exit", () => done()))
  child.kill("SIGTERM")
  const timer = setTimeout(() => child.kill("SIGKILL"), 8_000)
  await gone
  clearTimeout(timer)
}

/** Where each kind of school keeps its data and its build. */
export const schoolPlaces = {
  demo: { folder: join(".data", "demo"), distDir: ".next" },
  own: { folder: join(".data", "school"), distDir: ".next" },
  test: { distDir: ".next-test" },
} as const
