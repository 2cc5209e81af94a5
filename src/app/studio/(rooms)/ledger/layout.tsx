import type { ReactNode } from "react"
import { studio } from "@/app/door"
import { isTesting } from "@/server/ledger/connect"
import { TextLink } from "@/ui/link"
import { RoomsWithin } from "../rooms-within"

export default async function LedgerLayout({ children }: { children: ReactNode }) {
  const testing = await isTesting(await studio())
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
      {testing ? (
        <p className="mt-3 rounded-md border border-amber bg-amber-wash px-3 py-2">
          <strong>Test: no money moves.</strong> What is ordered now is taken out once you{" "}
          <TextLink href="/studio/settings/cards">connect your card processor</TextLink>.
        </p>
      ) : null}
      {children}
    </div>
  )
}
