// One private MariaDB for all server tests of a run; each test file makes a database of its own in it.
import { rmSync } from "node:fs"
import type { TestProject } from "vitest/node"
import { ensureDebian } from "@/cli/debian"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"

export default async function setup(project: TestProject) {
  ensureDebian("mariadb")
  const folder = `.test/server-${process.pid}`
  rmSync(folder, { recursive: true, force: true })
  const mariadb = await startMariaDb(openInstallation(folder), true)
  project.provide("databaseUrl", mariadb.url)
  project.provide("databasePid", mariadb.pid() ?? 0)
  return async () => {
    await mariadb.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

declare module "vitest" {
  export interface ProvidedContext {
    databaseUrl: string
    databasePid: number
  }
}
