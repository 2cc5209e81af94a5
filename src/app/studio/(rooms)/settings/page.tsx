import { studio } from "@/app/guard"
import { liveFunnels } from "@/server/funnel/funnel-view"
import { readSchool } from "@/server/school"
import { SettingsForm } from "./form"

export const metadata = { title: "Settings" }

export default async function SettingsPage() {
  const s = await studio()
  return (
    <>
      <h1 className="mt-4">The school</h1>
      <SettingsForm
        school={await readSchool(s.db)}
        zones={Intl.supportedValuesOf("timeZone")}
        funnels={await liveFunnels(s.db)}
      />
    </>
  )
}
