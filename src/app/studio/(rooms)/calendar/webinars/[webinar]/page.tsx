import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { usesOf } from "@/server/reference"
import { listDates } from "@/server/webinar/dates"
import { readWebinar } from "@/server/webinar/webinar"
import { webinarChoices } from "@/server/webinar/webinar-view"
import { Back } from "@/ui/link"
import { idOf } from "../../../asked"
import { SetsOff } from "../../../sets-off"
import { UsedIn } from "../../../used-in"
import { WebinarEditor } from "./webinar-editor"

export const metadata = { title: "Webinar" }

export default async function WebinarPage({ params }: { params: Promise<{ webinar: string }> }) {
  const s = await studio()
  const id = idOf((await params).webinar)
  const webinar = await readWebinar(s.db, id)
  if (!webinar) notFound()
  const now = await s.clock.now()
  const name = `“${webinar.value.title}”`
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <Back href="/studio/calendar/webinars">Webinars</Back>
      <WebinarEditor
        id={id}
        webinar={webinar}
        choices={await webinarChoices(s.db, webinar.value.deal?.coupon ?? null, now)}
        toCome={await listDates(s, id, "to-come")}
        behind={await listDates(s, id, "behind")}
        now={now}
      />
      <SetsOff of={id} name={name} on={await effectsAbout(s.db, "webinar", id)} choices={await effectChoices(s.db)} />
      <UsedIn uses={await usesOf(s.db, "webinar", id)} />
    </div>
  )
}
