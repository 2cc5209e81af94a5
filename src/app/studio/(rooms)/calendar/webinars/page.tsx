import { studio } from "@/app/guard"
import { dateRuleWords } from "@/core/webinar/words"
import { listWebinars, type WebinarListed } from "@/server/webinar/webinar"
import { Link } from "@/ui/link"
import { NewByName } from "@/ui/new-by-name"
import { PlaceTabs } from "../../place-tabs"
import { dated, people } from "../../words"
import { newWebinarAction } from "./actions"

export const metadata = { title: "Webinars" }

export default async function WebinarsPage() {
  const all = await listWebinars(await studio())
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Calendar</h1>
      <PlaceTabs of="calendar" className="mt-2" />
      <p className="mt-4 text-soft">A free training at a date: people register, come, and are led to an offer.</p>
      <NewByName says="New webinar" label="Title" open={all.length === 0} act={newWebinarAction} maxLength={160} />
      <ul className="mt-4">
        {all.map((w) => (
          <li key={w.id} className="flex flex-wrap items-baseline gap-x-4 border-t border-line py-2">
            <span className="min-w-0 flex-1 basis-80">
              <Link
                href={`/studio/calendar/webinars/${w.id}`}
                className="font-semibold [overflow-wrap:anywhere] text-slate hover:underline"
              >
                {w.webinar.title}
              </Link>
              <span className="block text-body text-soft">{dateRuleWords(w.webinar.when)}</span>
            </span>
            <span className="text-body tabular-nums">
              <Next of={w} />
            </span>
          </li>
        ))}
      </ul>
    </div>
  )
}

function Next({ of: { webinar, next, behind } }: { of: WebinarListed }) {
  const past = behind ? `, ${behind} behind it` : ""
  if (next)
    return (
      <>
        next {dated(next.at, webinar.zone)}: {people(next.registered)} registered
        <span className="text-soft">{past}</span>
      </>
    )
  if (webinar.when.kind === "any-time") return <span className="text-soft">nobody is registered just now{past}</span>
  return <span className="text-amber-text">no date to come{past}</span>
}
