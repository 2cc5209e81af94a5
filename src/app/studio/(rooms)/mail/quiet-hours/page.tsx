import { studio } from "@/app/guard"
import { readSendingRules } from "@/server/mail/hold"
import { listMail } from "@/server/mail/mail-view"
import { schoolZone } from "@/server/school-view"
import { PlaceTabs } from "../../place-tabs"
import { studioMoment } from "../../words"
import { RedButton } from "./red-button"
import { SendingRulesForm } from "./sending-rules-form"

export const metadata = { title: "Quiet hours and limits" }

export default async function MannersPage() {
  const s = await studio()
  const { rules, paused } = await readSendingRules(s.db)
  const zone = await schoolZone(s.db)
  const held = await listMail(s.db, "held")
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Mail</h1>
      <PlaceTabs of="mail" className="mt-2" />
      <section aria-label="Everything at once" className="mt-4">
        <RedButton since={paused === null ? null : studioMoment(paused, zone)} held={held.length} />
      </section>
      <section aria-label="Quiet hours and limits" className="mt-6 border-t border-line pt-4">
        <h2>When you write, and how much</h2>
        <p className="text-soft">
          For sequences and broadcasts. What somebody asked for (a sign-in link, a receipt, the lessons they signed up
          for) comes at any hour and isn’t counted.
        </p>
        <SendingRulesForm rules={rules} />
      </section>
    </div>
  )
}
