// The demo school, running for the browser tests on a port of its own, with less traffic than the demo has.
import { rmSync } from "node:fs"
import { loadDemo } from "@demo/load"
import type { TestProject } from "vitest/node"
import { buildIfChanged } from "@/cli/build"
import { ensureDebian } from "@/cli/debian"
import { places, startSchool } from "@/cli/school"
import { configFromEnvironment } from "@/server/config"
import { closeSurroundings, openSurroundings } from "@/server/surroundings"

export default async function setup(project: TestProject) {
  ensureDebian("mariadb", "chromium")
  await buildIfChanged(places.test.distDir)
  const folder = `.test/browser-${process.pid}`
  const school = await startSchool({
    mode: "test",
    folder,
    distDir: places.test.distDir,
    port: 0,
    prepare: async (environment) => {
      const s = openSurroundings(configFromEnvironment(environment))
      await loadDemo(s, 700)
      await closeSurroundings(s)
    },
  })
  project.provide("origin", school.origin)
  return async () => {
    await school.stop()
    rmSync(folder, { recursive: true, force: true })
  }
}

declare module "vitest" {
  export interface ProvidedContext {
    origin: string
  }
}
