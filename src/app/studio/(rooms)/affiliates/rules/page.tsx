import { studio } from "@/app/guard"
import { affiliateRules } from "@/server/affiliate/rules"
import { sellingRules } from "@/server/offer/offer"
import { RulesForm } from "./rules-form"

export const metadata = { title: "Rules" }

export default async function RulesPage() {
  const s = await studio()
  const rules = await affiliateRules(s.db)
  return (
    <div className="max-w-3xl">
      <h1 className="mt-4">Rules for all affiliates</h1>
      <RulesForm rules={rules} currency={(await sellingRules(s.db)).currency} />
    </div>
  )
}
