import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { type BroadcastState, listBroadcasts } from "@/server/broadcast/store"
import { schoolZone } from "@/server/school-view"
import { Link } from "@/ui/link"
import { NewByName } from "@/ui/new-by-name"
import { PlaceTabs } from "../../place-tabs"
import { studioMoment } from "../../words"
import { newBroadcastAction } from "./actions"

export const metadata = { title: "Broadcasts" }

const states: Readonly<Record<BroadcastState, string>> = {
  draft: "Being written",
  planned: "Planned",
  paused: "Paused",
  stopped: "Stopped",
  sent: "Sent",
}

export default async function BroadcastsPage() {
  const s = await studio()
  const all = await listBroadcasts(s.db)
  const zone = await schoolZone(s.db)
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Mail</h1>
      <PlaceTabs of="mail" className="mt-2" />
      <p className="mt-4 text-soft">One e-mail to everybody of a segment who agreed to be written to.</p>
      <NewByName says="New broadcast" open={all.length === 0} act={newBroadcastAction} />
      <ul className="mt-4">
        {all.map((b) => (
          <li key={b.id} className="flex items-baseline gap-4 border-t border-line py-2">
            <span className="min-w-0 flex-1">
              <Link
                href={`/studio/mail/broadcasts/${b.id}`}
                className="font-semibold [overflow-wrap:anywhere] text-slate hover:underline"
              >
                {b.name}
              </Link>
              <span className="block text-body text-soft">
                {states[b.state]}
                {b.begins ? `, ${studioMoment(b.begins, zone)}` : ""}
              </span>
            </span>
            {b.mails ? (
              <span className="whitespace-nowrap text-soft tabular-nums">
                {b.sent.toLocaleString(locale)} of {b.mails.toLocaleString(locale)} sent
              </span>
            ) : null}
          </li>
        ))}
      </ul>
    </div>
  )
}
