// A demo school of its own for tests, benchmarks and screenshots: built, filled and running beside any other.
import { loadDemo } from "@demo/load"
import { configFromEnvironment } from "@/server/config"
import { closeContext } from "@/server/context"
import { openContext } from "@/server/open"
import { buildIfChanged } from "./build"
import { type School, schoolPlaces, startSchool } from "./school"

export async function startDemoSchool(folder: string, visitors?: number): Promise<School> {
  const { distDir } = schoolPlaces.test
  return startSchool({
    mode: "test",
    folder,
    distDir,
    built: buildIfChanged(distDir),
    port: 0,
    prepare: (environment) => fillDemo(environment, visitors),
  })
}

/** Fills the school of an environment with the demo. */
export async function fillDemo(environment: NodeJS.ProcessEnv, visitors?: number): Promise<void> {
  const s = openContext(configFromEnvironment(environment), "demo")
  await loadDemo(s, visitors)
  await closeContext(s)
}
