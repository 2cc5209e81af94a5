// The people list with 100,000 people: every page, sort and search, and the exact count.
import { firstNames } from "@demo/lessons"
import { openInstallation } from "@/cli/installation"
import { startMariaDb } from "@/cli/mariadb"
import { migrate } from "@/server/db/migrate"
import { openDatabase } from "@/server/db/pool"
import { countPeople, listPeople, type PeopleQuery } from "@/server/person/people"
import { searchedText } from "@/server/person/person"
import { rollTally } from "@/server/tally"
import { type Line, median } from "./report"
import { timed } from "./yardstick"

const people = 100_000

export async function benchPeople(folder: string): Promise<Line[]> {
  const mariadb = await startMariaDb(openInstallation(folder))
  const db = openDatabase(mariadb.url, 4)
  try {
    await migrate(db)
    await db.write("INSERT INTO tag (name) VALUES ('crock'), ('rare')")
    for (let from = 0; from < people; from += 5000) {
      const rows = Array.from({ length: 5000 }, (_, k) => {
        const i = from + k
        const name = firstNames[(i * 7) % firstNames.length]!
        const email = `person.${(i * 7919) % people}@${["postbox", "letterbox"][i % 2]}.example`
        return [
          i + 1,
          name,
          email,
          "UTC",
          new Date(1.7e12 + ((i * 104_729) % people) * 1000),
          "letter",
          searchedText(name, email),
        ]
      })
      await db.write("INSERT INTO person (id, name, email, zone, joined_at, source, searched) VALUES ?", [rows])
      await db.write("INSERT INTO address (person_id, email, canonical, confirmed_at) VALUES ?", [
        rows.map((r) => [r[0], r[2], r[2], r[4]]),
      ])
    }
    await db.write("INSERT INTO person_tag SELECT id, 1, joined_at, joined_at FROM person WHERE id % 3 = 0")
    await db.write("INSERT INTO person_tag SELECT id, 2, joined_at, joined_at FROM person WHERE id % 5000 = 0")
    // As the worker does within seconds.
    while ((await rollTally({ db })) > 0);
    await db.rows("ANALYZE TABLE person, person_tag, address")
    const base: PeopleQuery = { search: "", tag: null, sort: "joined", descending: true, page: 0 }
    const cases: [string, Partial<PeopleQuery>][] = [
      ["first page", {}],
      ["last page, by joined", { page: 1999 }],
      ["middle page, by name", { sort: "name", page: 1000 }],
      ["last page, by e-mail, down", { sort: "email", page: 1999 }],
      ["search that fits everyone, page 1000", { search: "example", page: 1000 }],
      ["search that fits one", { search: "person.77777@" }],
      ["search that fits nobody, by name", { search: "zzzz", sort: "name" }],
      ["two words, by e-mail", { search: "ines letterbox", sort: "email" }],
      ["a common tag, last page, by name", { tag: 1, sort: "name", page: 600 }],
      ["a common tag, middle page, by name", { tag: 1, sort: "name", page: 333 }],
      ["a common tag and a search", { tag: 1, search: "ines" }],
      ["a rare tag", { tag: 2 }],
    ]
    const lines: Line[] = []
    for (const [what, part] of cases) {
      const q = { ...base, ...part }
      const list = await times(() => listPeople(db, q))
      const both = await times(() => Promise.all([listPeople(db, q), countPeople(db, q)]))
      lines.push({
        what,
        against: `${both.toFixed(0)} ms with the exact count`,
        ...timed(list, 150, "query"),
      })
    }
    return lines
  } finally {
    await db.end()
    await mariadb.stop()
  }
}

async function times(work: () => Promise<unknown>): Promise<number> {
  const taken: number[] = []
  await work()
  for (let i = 0; i < 7; i++) {
    const start = performance.now()
    await work()
    taken.push(performance.now() - start)
  }
  return median(taken)
}
