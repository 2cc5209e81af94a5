import { studio } from "@/app/guard"
import { type ImportState, listImports } from "@/server/person/import"
import { schoolZone } from "@/server/school-view"
import { Link } from "@/ui/link"
import { PlaceTabs } from "../../place-tabs"
import { people, studioMoment } from "../../words"
import { ChooseFile } from "./choose-file"

export const metadata = { title: "Import people" }

const states: Readonly<Record<ImportState, string>> = {
  uploaded: "Waiting for you to say what its columns are",
  running: "Coming in",
  done: "Done",
  stopped: "Stopped",
  "taken-back": "Taken back",
}

export default async function ImportPage() {
  const s = await studio()
  const all = await listImports(s.db)
  const zone = await schoolZone(s.db)
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>People</h1>
      <PlaceTabs of="people" className="mt-2" />
      <p className="mt-4 max-w-2xl text-soft">
        A file with one person a line: CSV from a spreadsheet or from another program. You see what is in it before
        anybody comes in, and can take it back for a week.
      </p>
      <ChooseFile />
      <ul className="mt-5">
        {all.map((i) => (
          <li key={i.id} className="flex items-baseline gap-4 border-t border-line py-2">
            <span className="min-w-0 flex-1">
              <Link
                href={`/studio/people/import/${i.id}`}
                className="font-semibold [overflow-wrap:anywhere] text-slate hover:underline"
              >
                {i.name}
              </Link>
              <span className="block text-body text-soft">
                {states[i.state]}, {studioMoment(i.made, zone)}
              </span>
            </span>
            {i.fresh + i.known ? <span className="whitespace-nowrap text-soft">{people(i.fresh)} new</span> : null}
          </li>
        ))}
      </ul>
    </div>
  )
}
