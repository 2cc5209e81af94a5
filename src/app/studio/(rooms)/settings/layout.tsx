import type { ReactNode } from "react"
import { RoomsWithin } from "../rooms-within"

export default function SettingsLayout({ children }: { children: ReactNode }) {
  return (
    <div className="mx-auto max-w-3xl pt-3">
      <RoomsWithin
        label="Within the settings"
        rooms={[
          { name: "School", href: "/studio/settings" },
          { name: "Mail", href: "/studio/settings/mail" },
          { name: "Cards and meetings", href: "/studio/settings/cards" },
          { name: "Automations", href: "/studio/settings/automations" },
          { name: "Files", href: "/studio/settings/files" },
          { name: "Account", href: "/studio/settings/account" },
        ]}
      />
      {children}
    </div>
  )
}
