import { notFound } from "next/navigation"
import { studio } from "@/app/door"
import { stepKinds } from "@/core/funnel/step/list"
import { sequenceRevisions } from "@/server/funnel/edit"
import { effectChoices } from "@/server/funnel/effects-view"
import { loadFunnel } from "@/server/funnel/load"
import { effectsAbout } from "@/server/funnel/occasion"
import { usesOf } from "@/server/reference"
import { Link } from "@/ui/link"
import { idOf } from "../../../../ids"
import { SetsOff } from "../../../../sets-off"
import { UsedIn } from "../../../../used-in"
import { SequenceEditor } from "./sequence-editor"

export const metadata = { title: "Sequence" }

export default async function SequencePage({ params }: { params: Promise<{ id: string; sequence: string }> }) {
  const s = await studio()
  const { id, sequence } = await params
  const funnel = await loadFunnel(s.db, idOf(id))
  const found = funnel?.sequences.find((q) => q.id === idOf(sequence))
  if (!funnel || !found) notFound()
  const revisions = await sequenceRevisions(s.db, found.id)
  return (
    <div className="mx-auto max-w-4xl pt-3">
      <p className="text-[0.9rem]">
        <Link className="text-slate hover:underline" href={`/studio/funnels/${funnel.id}?step=p${found.id}`}>
          ‹ {funnel.name}
        </Link>
      </p>
      <SequenceEditor
        sequence={found}
        revisions={revisions}
        pages={funnel.steps.filter((x) => stepKinds[x.kind].entry)}
        lessons={funnel.courses.flatMap((c) => c.lessons.map((l) => ({ id: l.id, title: `${c.title}: ${l.title}` })))}
      />
      <SetsOff
        of={found.id}
        name={`“${found.name}”`}
        on={await effectsAbout(s.db, "sequence", found.id)}
        choices={await effectChoices(s.db)}
      />
      <UsedIn uses={await usesOf(s.db, "sequence", found.id)} />
    </div>
  )
}
