import { startDemoSchool } from "@/cli/demo-school"
import { configFromEnvironment } from "@/server/config"
import { openDatabase } from "@/server/db/pool"
import { gatherRests, rollRests, rollUp } from "@/server/funnel/rollup"
import { rollJournal } from "@/server/ledger/balance"
import { rollSold } from "@/server/numbers/roll-sold"
import { rollSources } from "@/server/numbers/roll-sources"
import { openContext } from "@/server/open"
import { rollTally } from "@/server/tally"
import { filled, multiply } from "./multiply"
import { writeFileSync } from "node:fs"
process.env.HERON_DB_MEMORY ??= "3G"
const school = await startDemoSchool(".test/stay", 5200)
const s = openContext(configFromEnvironment(school.environment), "bench")
const slow = openDatabase(s.config.databaseUrl, 3, 900_000)
writeFileSync("/tmp/stay.json", JSON.stringify({ env: school.environment, url: s.config.databaseUrl, origin: school.origin }))
const settle = async (w: any) => {
  while ((await rollUp(w, 500_000)) > 0);
  while ((await rollRests(w, 100_000)) > 0);
  while ((await rollTally(w)) > 0);
  while ((await rollSources(w)) > 0);
  while ((await rollSold(w.db, 50_000)) > 0);
  while ((await gatherRests(w)) > 0);
  while ((await rollJournal(w, -1)) > 0);
}
const wide = { ...s, db: slow }
for (const round of ["a", "b"]) {
  await settle(wide)
  await multiply(slow, 9, round)
  await slow.rows(`ANALYZE TABLE ${filled.join(", ")}`)
  await settle(wide)
  console.log(round, new Date().toISOString())
}
console.log("filled")
setInterval(() => {}, 1e6)
