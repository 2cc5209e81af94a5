import { studio } from "@/app/guard"
import { listSegments } from "@/server/person/segment"
import { Link } from "@/ui/link"
import { NewByName } from "@/ui/new-by-name"
import { PlaceTabs } from "../../place-tabs"
import { counted } from "../../words"
import { newSegmentAction } from "../actions"

export const metadata = { title: "Segments" }

export default async function SegmentsPage() {
  const all = await listSegments(await studio())
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>People</h1>
      <PlaceTabs of="people" className="mt-2" />
      <p className="mt-4 text-soft">A question about people that keeps its name, and is answered anew at each look.</p>
      <NewByName says="New segment" open={all.length === 0} act={newSegmentAction} />
      <ul className="mt-4">
        {all.map((x) => (
          <li key={x.id} className="flex items-baseline gap-4 border-t border-line py-2">
            <span className="min-w-0 flex-1">
              <Link
                href={`/studio/people/segments/${x.id}`}
                className="font-semibold [overflow-wrap:anywhere] text-slate hover:underline"
              >
                {x.name}
              </Link>
              <span className="block text-body text-soft">{x.says ? `People who ${x.says}` : "Everybody"}</span>
            </span>
            <span className="whitespace-nowrap tabular-nums">
              {counted(x.count)} {x.count.most === 1 ? "person" : "people"}
            </span>
          </li>
        ))}
      </ul>
    </div>
  )
}
