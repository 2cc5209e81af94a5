// People from a file, against LOAD DATA of the rows they come to.
import { Readable } from "node:stream"
import type { Context } from "@/server/context"
import { keepImport, readImport, startImport } from "@/server/person/import"
import { imports } from "@/server/person/take-in"
import { loader } from "./load-data"
import type { Line } from "./report"

/** So many people by CSV, as the worker takes them in. */
export async function fromFile(s: Context, url: string, n: number): Promise<Line> {
  const lines = Array.from({ length: n }, (_, i) => `new${i}@post.example;Ines ${i};fair`)
  const kept = (await keepImport(s, "people.csv", Readable.from([`email;name;tags\n${lines.join("\n")}\n`]))) as {
    id: number
  }
  await startImport(s, kept.id, { roles: ["email", "name", "tags"], tags: [], consent: "yes" })
  const began = performance.now()
  await imports.run(s, "w")
  const took = (performance.now() - began) / 1000
  const seen = await readImport(s, kept.id)
  if (seen?.fresh !== n) throw new Error(`${seen?.fresh} came in: ${seen?.trouble}`)
  const load = await loader(s.db, url)
  let ms = 0
  for (const table of ["person", "address", "consent", "person_tag", "imported", "imported_tag", "fact"])
    ms += await load.copy(table, n)
  await load.end()
  return {
    what: `${n} people from a file, against LOAD DATA of the rows they come to`,
    ours: `${Math.round(n / took)}/s`,
    against: `${Math.round(n / (ms / 1000))}/s`,
    ratio: (ms / 1000 / took).toFixed(2),
    wanted: "at least 0.25",
  }
}
