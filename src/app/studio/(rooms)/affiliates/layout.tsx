import type { ReactNode } from "react"
import { RoomsWithin } from "../rooms-within"

export default function AffiliatesLayout({ children }: { children: ReactNode }) {
  return (
    <div className="mx-auto max-w-6xl pt-3">
      <RoomsWithin
        label="Within affiliates"
        rooms={[
          { name: "Affiliates", href: "/studio/affiliates" },
          { name: "Programmes", href: "/studio/affiliates/programmes" },
          { name: "Report", href: "/studio/affiliates/report" },
          { name: "Payouts", href: "/studio/affiliates/payouts" },
          { name: "Rules", href: "/studio/affiliates/rules" },
        ]}
      />
      {children}
    </div>
  )
}
