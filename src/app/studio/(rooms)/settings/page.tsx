import { studio } from "@/app/door"
import { SettingsForm } from "./form"

export const metadata = { title: "Settings" }

export default async function SettingsPage() {
  const s = await studio()
  const school = await s.db.row<{
    name: string
    sender_name: string
    sender_email: string
    postal_address: string
    zone: string
    look: string
  }>("SELECT name, sender_name, sender_email, postal_address, zone, look FROM school WHERE id = 1")
  return (
    <div className="mx-auto max-w-2xl pt-4">
      <h1>Settings</h1>
      <SettingsForm school={school!} zones={Intl.supportedValuesOf("timeZone")} />
    </div>
  )
}
