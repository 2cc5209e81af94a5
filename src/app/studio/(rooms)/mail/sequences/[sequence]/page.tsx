import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { effectChoices, listEffects } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { segmentChoices } from "@/server/person/segment-view"
import { usesOf } from "@/server/reference"
import { schoolZone } from "@/server/school-view"
import { mailsStand, stepWords } from "@/server/sequence/edit"
import { isSequenceChanged } from "@/server/sequence/live"
import { placesIn } from "@/server/sequence/people"
import { plannedOf } from "@/server/sequence/planned"
import { editorChoices, listSequences, mailNumbers } from "@/server/sequence/sequence-view"
import { loadSequence } from "@/server/sequence/store"
import { Back } from "@/ui/link"
import { idOf } from "../../../asked"
import { SetsOff } from "../../../sets-off"
import { UsedIn } from "../../../used-in"
import { studioMoment } from "../../../words"
import { Beginnings } from "./beginnings"
import { SequenceEditor } from "./sequence-editor"

export const metadata = { title: "Sequence" }

export default async function SequencePage({ params }: { params: Promise<{ sequence: string }> }) {
  const s = await studio()
  const q = await loadSequence(s.db, idOf((await params).sequence))
  if (!q) notFound()
  const name = `“${q.name}”`
  const zone = await schoolZone(s.db)
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <Back href="/studio/mail/sequences">Sequences</Back>
      <SequenceEditor
        sequence={q}
        changed={await isSequenceChanged(s.db, q)}
        says={await stepWords(s.db, q.flow)}
        places={await placesIn(s.db, q.id)}
        stand={await mailsStand(s.db, q.id)}
        numbers={await mailNumbers(s.db, [q.id])}
        choices={{ ...(await editorChoices(s.db)), segment: await segmentChoices(s.db) }}
        planned={(await plannedOf(s.db, q.id)).map((p) => ({ ...p, when: studioMoment(p.due, zone) }))}
        others={(await listSequences(s.db)).filter((x) => x.id !== q.id).map((x) => ({ id: x.id, name: x.name }))}
      />
      <Beginnings
        sequence={q.id}
        all={(await listEffects(s.db)).filter((e) => e.begins === q.id)}
        choices={await segmentChoices(s.db)}
        sequences={(await effectChoices(s.db)).sequences}
      />
      <SetsOff
        of={q.id}
        name={name}
        on={await effectsAbout(s.db, "sequence", q.id)}
        choices={await effectChoices(s.db)}
      />
      <UsedIn uses={await usesOf(s.db, "sequence", q.id)} />
    </div>
  )
}
