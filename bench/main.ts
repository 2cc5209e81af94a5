// heron bench: the benchmarks, one after the other, or those whose names are given.
import { rmSync } from "node:fs"
import { ensureDebian } from "@/cli/debian"
import { Stop } from "@/cli/say"
import { benchAffiliates } from "./affiliates"
import { benchCourses } from "./courses"
import { benchFollowUp } from "./follow-up"
import { benchLearning } from "./learning"
import { benchMail } from "./mail"
import { benchPages } from "./pages"
import { benchPeople } from "./people"
import { printLines } from "./report"
import { benchRiver } from "./river"
import { benchImport, benchSegments } from "./segments"
import { benchSelling } from "./selling"
import { benchStudio } from "./studio"
import { benchWebinar } from "./webinar"

const benches = {
  pages: ["A published page", benchPages],
  mail: ["Mail", benchMail],
  people: ["The people list at 100,000 rows", benchPeople],
  river: ["The river", benchRiver],
  courses: ["Courses", benchCourses],
  learning: ["The learning area and the builder", benchLearning],
  selling: ["Selling", benchSelling],
  "follow-up": ["Follow-up", benchFollowUp],
  segments: ["Segments, of a million people", benchSegments],
  import: ["A million people from a file", benchImport],
  webinar: ["Webinars", benchWebinar],
  affiliates: ["Affiliates", benchAffiliates],
  studio: ["The studio with more", benchStudio],
} as const

export async function runBenchmarks(words: readonly string[]): Promise<void> {
  ensureDebian("mariadb")
  const unknown = words.find((w) => !Object.hasOwn(benches, w))
  if (unknown) throw new Stop(`There is no benchmark “${unknown}”: ${Object.keys(benches).join(", ")}.`)
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => process.exit(130))
  for (const [name, [title, run]] of Object.entries(benches)) {
    if (words.length && !words.includes(name)) continue
    const folder = `.test/bench-${process.pid}-${name}`
    try {
      printLines(title, await run(folder))
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  }
}
