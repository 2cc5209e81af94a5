import type { ReactNode } from "react"
import { PlaceTabs } from "../place-tabs"

export default function SettingsLayout({ children }: { children: ReactNode }) {
  return (
    <div className="mx-auto max-w-3xl pt-3 has-[>.wide]:max-w-7xl">
      <PlaceTabs of="settings" />
      {children}
    </div>
  )
}
