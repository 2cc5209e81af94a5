import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { countReaders } from "@/server/broadcast/plan"
import { resultOf } from "@/server/broadcast/result"
import { readBroadcast } from "@/server/broadcast/store"
import { segmentChoices } from "@/server/person/segment-view"
import { schoolZone } from "@/server/school-view"
import { editorChoices } from "@/server/sequence/sequence-view"
import { Back } from "@/ui/link"
import { idOf } from "../../../asked"
import { BroadcastEditor } from "./broadcast-editor"
import { BroadcastResult } from "./broadcast-result"

export const metadata = { title: "Broadcast" }

export default async function BroadcastPage({ params }: { params: Promise<{ broadcast: string }> }) {
  const s = await studio()
  const b = await readBroadcast(s.db, idOf((await params).broadcast))
  if (!b) notFound()
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <Back href="/studio/mail/broadcasts">Broadcasts</Back>
      {b.state === "draft" ? (
        <BroadcastEditor
          broadcast={b}
          readers={await countReaders(s, b.document)}
          choices={await segmentChoices(s.db)}
          targets={await editorChoices(s.db)}
        />
      ) : (
        <BroadcastResult broadcast={b} result={await resultOf(s.db, b)} zone={await schoolZone(s.db)} />
      )}
    </div>
  )
}
