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
    currency: string
    tax_rate: number
    tax_included: number
    statement: string
  }>(
    "SELECT name, sender_name, sender_email, postal_address, zone, look, currency, tax_rate, tax_included, statement FROM school WHERE id = 1",
  )
  return (
    <div className="mx-auto max-w-2xl pt-4">
      <h1>Settings</h1>
      <SettingsForm
        school={school!}
        processor={s.cards ? { origin: s.cards.origin, standIn: s.config.mode !== "own" } : null}
        zones={Intl.supportedValuesOf("timeZone")}
      />
    </div>
  )
}
