// heron bench: the benchmarks, one after the other, or those whose names are given.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs"
import { ensureDebian } from "@/cli/debian"
import { Stop } from "@/cli/say"
import { benchAffiliates } from "./affiliates"
import { benchCourses } from "./courses"
import { benchEditor } from "./editor"
import { benchFollowUp } from "./follow-up"
import { benchLearning } from "./learning"
import { benchMail } from "./mail"
import { benchNumbers } from "./numbers"
import { benchPages } from "./pages"
import { benchPeople } from "./people"
import { type Found, type Line, printLines } from "./report"
import { benchRiver } from "./river"
import { benchImport, benchSegments } from "./segments"
import { benchSelling } from "./selling"
import { benchStudio } from "./studio"
import { benchUpload } from "./upload"
import { benchVisit } from "./visit"
import { benchWebinar } from "./webinar"
import { takeYardsticks, yardstickWords } from "./yardstick"

const benches = {
  pages: ["A published page", benchPages],
  visit: ["A sales page on a slow phone", benchVisit],
  editor: ["The editor", benchEditor],
  upload: ["Two gigabytes sent up", benchUpload],
  mail: ["Mail", benchMail],
  people: ["The people list at 100,000 rows", benchPeople],
  river: ["The river", benchRiver],
  numbers: ["Numbers", benchNumbers],
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

export async function runBenchmarks(words: readonly string[], against?: string): Promise<void> {
  ensureDebian("mariadb")
  const unknown = words.find((w) => !Object.hasOwn(benches, w))
  if (unknown) throw new Stop(`There is no benchmark “${unknown}”: ${Object.keys(benches).join(", ")}.`)
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.once(signal, () => process.exit(130))
  const before: Found = against ? JSON.parse(readFileSync(against, "utf8")) : {}
  const found: Record<string, readonly Line[]> = {}
  const file = ".test/bench.json"
  mkdirSync(".test", { recursive: true })
  const yards = `.test/bench-${process.pid}-yards`
  for (const [name, ms] of Object.entries(await takeYardsticks(yards)))
    console.log(`${yardstickWords[name as keyof typeof yardstickWords]}: one takes ${ms.toFixed(3)} ms here`)
  rmSync(yards, { recursive: true, force: true })
  for (const [name, [title, run]] of Object.entries(benches)) {
    if (words.length && !words.includes(name)) continue
    const folder = `.test/bench-${process.pid}-${name}`
    try {
      found[name] = await run(folder)
      printLines(title, found[name], before[name])
      writeFileSync(file, JSON.stringify(found, null, 2))
    } finally {
      rmSync(folder, { recursive: true, force: true })
    }
  }
  console.log(`\nWritten to ${file}; beside another run with --against FILE.`)
}
