import type { ReactNode } from "react"
import { studio } from "@/app/guard"
import { isTesting } from "@/server/ledger/connect"
import { TextLink } from "@/ui/link"
import { PlaceTabs } from "../place-tabs"

export default async function LedgerLayout({ children }: { children: ReactNode }) {
  const testing = await isTesting(await studio())
  return (
    <div className="mx-auto max-w-6xl pt-3">
      <PlaceTabs of="ledger" />
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
