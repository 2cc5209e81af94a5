// A whole school as heron runs it: its processes die and come back, everything ends in order, and a second start finds all.

import { spawn, spawnSync } from "node:child_process"
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs"
import { createServer } from "node:net"
import { join } from "node:path"
import { afterAll, describe, expect, it } from "vitest"
import { buildIfChanged } from "@/cli/build"
import { freePort, openInstallation } from "@/cli/installation"
import { type School, schoolPlaces, startSchool } from "@/cli/school"
import { configFromEnvironment } from "@/server/config"
import { closeContext } from "@/server/context"
import { openDatabase } from "@/server/db/pool"
import { openContext } from "@/server/open"
import { makeOwner } from "@/server/person/account"

const folder = `.test/processes-${process.pid}`
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const alive = (pid: number | undefined) => {
  try {
    process.kill(pid ?? -1, 0)
    return true
  } catch {
    return false
  }
}

async function until(what: string, done: () => Promise<boolean> | boolean, seconds = 30): Promise<void> {
  for (let i = 0; i < seconds * 10; i++) {
    if (await Promise.resolve(done()).catch(() => false)) return
    await new Promise((r) => setTimeout(r, 100))
  }
  throw new Error(`it did not come about: ${what}`)
}

const isWell = async (school: School) => (await fetch(`${school.origin}/healthz`)).status === 200
const start = (prepare?: (e: NodeJS.ProcessEnv) => Promise<void>) =>
  startSchool({
    mode: "test",
    folder,
    ...schoolPlaces.test,
    built: buildIfChanged(schoolPlaces.test.distDir),
    port: 0,
    prepare,
  })

it("leaves no database behind a benchmark that is interrupted", async () => {
  const bench = spawn(process.execPath, ["--import", "tsx", "src/cli/main.ts", "bench", "people"], { stdio: "ignore" })
  const databases = () =>
    readdirSync("/proc").filter((pid) => {
      try {
        return /^\d+$/.test(pid) && readFileSync(`/proc/${pid}/cmdline`, "utf8").includes(`bench-${bench.pid}-people`)
      } catch {
        return false
      }
    })
  await until("its database runs", () => databases().length > 0, 60)
  bench.kill("SIGINT")
  await until("its database has ended", () => !alive(bench.pid) && databases().length === 0, 60)
  rmSync(`.test/bench-${bench.pid}-people`, { recursive: true, force: true })
}, 120_000)

describe("a school", () => {
  it("comes back whatever is killed, ends in order, and finds everything again", async () => {
    const school = await start(async (environment) => {
      const s = openContext(configFromEnvironment(environment))
      await makeOwner(s, { school: "Kept", name: "N", email: "n@x.example", password: "long enough it is" })
      await closeContext(s)
    })
    await until("all is well", () => isWell(school))

    for (const name of ["worker", "web", "mailbox"] as const) {
      const before = school.process(name)!.pid
      school.process(name)!.kill("SIGKILL")
      await until(`${name} is back`, () => school.process(name)!.pid !== before && isWell(school))
    }
    const database = school.database!.pid()!
    process.kill(database, "SIGKILL")
    await until("the database is back", () => school.database!.pid() !== database && isWell(school))

    const pids = [
      ...(["web", "worker", "mailbox"] as const).map((n) => school.process(n)!.pid!),
      school.database!.pid()!,
    ]
    expect(pids.every(alive)).toBe(true)
    await school.stop()
    expect(pids.some(alive)).toBe(false)
    expect(readFileSync(join(folder, "db.log"), "utf8")).toContain("Shutdown complete") // the database ended cleanly

    const again = await start()
    const db = openDatabase(again.environment.DATABASE_URL!, 1)
    expect(await db.row("SELECT name FROM school")).toEqual({ name: "Kept" })
    await db.end()
    await again.stop()
  }, 600_000)

  it("keeps its secrets to its owner, and the same from start to start", () => {
    const file = join(folder, "heron.json")
    expect(statSync(file).mode & 0o077).toBe(0)
    const first = openInstallation(folder)
    expect(openInstallation(folder)).toEqual(first)
    expect(first.secret).toMatch(/^[0-9a-f]{64}$/)
    expect(openInstallation(`${folder}/other`).secret).not.toBe(first.secret)
  })

  it("takes another port where the wanted one is taken", async () => {
    const taken = createServer().listen(0, "127.0.0.1")
    await new Promise((r) => taken.once("listening", r))
    const { port } = taken.address() as { port: number }
    const found = await freePort(port)
    expect(found).not.toBe(port)
    expect(found).toBeGreaterThan(1024)
    taken.close()
    await new Promise((r) => taken.once("close", r))
    expect(await freePort(port)).toBe(port)
  })

  it("does not build again what has not changed", async () => {
    const stamp = join(schoolPlaces.test.distDir, "heron-stamp")
    expect(existsSync(stamp)).toBe(true)
    const before = statSync(stamp).mtimeMs
    expect(statSync(stamp).mtimeMs).toBe(before)
  })
})

describe("the command", () => {
  const heron = (...args: string[]) =>
    spawnSync(process.execPath, ["--import", "tsx", "src/cli/main.ts", ...args], {
      encoding: "utf8",
      env: { ...process.env, CI: "true" },
    })
  it("lists what it does", () => {
    const { stdout, status } = heron("help")
    for (const word of ["demo", "start", "test", "bench", "screenshots", "reset"])
      expect(stdout).toContain(`./heron ${word}`)
    expect(status).toBe(0)
    expect(heron().stdout).toBe(stdout)
  })
  it.each([
    [["dance"], /no command “dance”/],
    [["demo", "--port", "70000"], /--port wants a number/],
    [["demo", "--port", "x"], /--port wants a number/],
    [["bench", "dance"], /no benchmark “dance”/],
  ])("says what is wrong with %j", (args, says) => {
    const { stderr, status } = heron(...args)
    expect(stderr).toMatch(says)
    expect(status).toBe(1)
  })
  it("empties the demo by reset and leaves a school of one's own", () => {
    const place = join(folder, "elsewhere")
    mkdirSync(join(place, ".data", "demo"), { recursive: true })
    mkdirSync(join(place, ".data", "school"), { recursive: true })
    writeFileSync(join(place, ".data", "school", "heron.json"), "{}")
    const root = process.cwd()
    const { status } = spawnSync(
      process.execPath,
      ["--import", join(root, "node_modules/tsx/dist/loader.mjs"), join(root, "src/cli/main.ts"), "reset"],
      { cwd: place, encoding: "utf8" },
    )
    expect(status).toBe(0)
    expect(existsSync(join(place, ".data", "demo"))).toBe(false)
    expect(existsSync(join(place, ".data", "school", "heron.json"))).toBe(true)
  })
})
