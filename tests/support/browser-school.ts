// The demo school, running for the browser tests on a port of its own, with less traffic than the demo has.
import { rmSync } from "node:fs"
import type { TestProject } from "vitest/node"
import { ensureDebian } from "@/cli/debian"
import { startDemoSchool } from "@/cli/demo-school"
import { clockOf } from "@/server/clock"
import { openDatabase } from "@/server/db/pool"

export default async function setup(project: TestProject) {
  ensureDebian("mariadb", "chromium")
  const folder = `.test/browser-${process.pid}`
  const school = await startDemoSchool(folder, 700)
  project.provide("origin", school.origin)
  const db = openDatabase(school.environment.DATABASE_URL ?? "", 1)
  project.provide("ahead", (await clockOf(db, "test").now()) - Date.now())
  await db.end()
  return async () => {
    await school.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

declare module "vitest" {
  export interface ProvidedContext {
    origin: string
    /** How far business time is ahead of real time, ms. */
    ahead: number
  }
}
