import type { ReactNode } from "react"
import { RoomsWithin } from "../rooms-within"

export default function LedgerLayout({ children }: { children: ReactNode }) {
  return (
    <div className="mx-auto max-w-6xl pt-3">
      <RoomsWithin
        label="Within the ledger"
        rooms={[
          { name: "Orders", href: "/studio/ledger" },
          { name: "Plans", href: "/studio/ledger/plans" },
          { name: "Books", href: "/studio/ledger/books" },
        ]}
      />
      {children}
    </div>
  )
}
