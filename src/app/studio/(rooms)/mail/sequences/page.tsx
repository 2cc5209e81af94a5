import { studio } from "@/app/guard"
import { type EffectListed, listEffects } from "@/server/funnel/effects-view"
import { listSequences, type SequenceListed } from "@/server/sequence/sequence-view"
import { Link } from "@/ui/link"
import { NewByName } from "@/ui/new-by-name"
import { PlaceTabs } from "../../place-tabs"
import { eMails, people } from "../../words"
import { newSequenceAction } from "./actions"

export const metadata = { title: "Sequences" }

const states: Readonly<Record<SequenceListed["state"], string>> = { draft: "Draft", live: "", paused: "Paused" }

function beginsWords([first, ...more]: readonly EffectListed[]): string {
  if (!first) return ", begun by hand only"
  const others =
    more.length === 0 ? "" : more.length === 1 ? ", and by one thing more" : `, and by ${more.length} things more`
  return `, begins when somebody ${first.when}${others}`
}

export default async function SequencesPage() {
  const { db } = await studio()
  const all = await listSequences(db)
  const effects = await listEffects(db)
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Mail</h1>
      <PlaceTabs of="mail" className="mt-2" />
      <p className="mt-4 text-soft">
        E-mails that follow one another, wait, ask and go different ways, and end by what their reader does.
      </p>
      <NewByName says="New sequence" open={all.length === 0} act={newSequenceAction} />
      <ul className="mt-4">
        {all.map((q) => (
          <li key={q.id} className="flex items-baseline gap-4 border-t border-line py-2">
            <span className="min-w-0 flex-1">
              <Link
                href={`/studio/mail/sequences/${q.id}`}
                className="font-semibold [overflow-wrap:anywhere] text-slate hover:underline"
              >
                {q.name}
              </Link>
              {states[q.state] ? <span className="ml-2 text-note text-amber-text">{states[q.state]}</span> : null}
              <span className="block text-body [overflow-wrap:anywhere] text-soft">
                {eMails(q.mails)}
                {beginsWords(effects.filter((e) => e.begins === q.id))}
              </span>
            </span>
            <span className="whitespace-nowrap text-soft tabular-nums">{people(q.running)} in it</span>
          </li>
        ))}
      </ul>
    </div>
  )
}
