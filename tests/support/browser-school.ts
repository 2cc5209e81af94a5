// The demo school, running for the browser tests on a port of its own, with less traffic than the demo has.
import { rmSync } from "node:fs"
import type { TestProject } from "vitest/node"
import { ensureDebian } from "@/cli/debian"
import { startDemoSchool } from "@/cli/demo-school"

export default async function setup(project: TestProject) {
  ensureDebian("mariadb", "chromium")
  const folder = `.test/browser-${process.pid}`
  const school = await startDemoSchool(folder, 700)
  project.provide("origin", school.origin)
  project.provide("schoolDatabase", school.environment.DATABASE_URL ?? "")
  return async () => {
    await school.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

declare module "vitest" {
  export interface ProvidedContext {
    origin: string
    schoolDatabase: string
  }
}
