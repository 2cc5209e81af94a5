import { studio } from "@/app/guard"
import { unknownFurther } from "@/core/numbers/measured"
import { funnelNames, likelyFunnel } from "@/server/numbers/brought"
import { cashKnown, offersToTry } from "@/server/numbers/cash"
import { measuredFunnel } from "@/server/numbers/change-view"
import { countedRange, pastOf, readForecast } from "@/server/numbers/forecast"
import { sellingRules } from "@/server/offer/offer"
import { schoolRow } from "@/server/school-view"
import { Button } from "@/ui/button"
import { ChooseFunnel } from "../asked-fields"
import { type AskedNumbers, funnelOf } from "../query"
import { ForecastBoard } from "./board"

export const metadata = { title: "Forecast" }

/** What a funnel will bring: from what is assumed of it, what was counted, or both. */
export default async function ForecastPage({ searchParams }: { searchParams: Promise<AskedNumbers> }) {
  const s = await studio()
  const asked = await searchParams
  const { currency } = await sellingRules(s.db)
  const now = await s.clock.now()
  const range = countedRange(now)
  const funnels = await funnelNames(s.db)
  const id = funnelOf(asked) ?? (await likelyFunnel(s.db, range, currency))
  const found = await measuredFunnel(s, id, range)
  return (
    <>
      <h1 className="mt-4">Forecast</h1>
      <search>
        <form action="/studio/numbers/forecast" className="mt-3 flex flex-wrap items-center gap-2">
          <ChooseFunnel funnels={funnels} value={id} />
          <Button type="submit">Show</Button>
        </form>
      </search>
      {found ? (
        <ForecastBoard
          key={id}
          funnel={id}
          steps={found.steps}
          cash={await cashKnown(s, id)}
          blank={unknownFurther()}
          offers={await offersToTry(s)}
          document={await readForecast(s, id, found.steps)}
          spread={(await pastOf(s.db, id, now)).spread}
          currency={currency}
          margin={(await schoolRow(s.db))?.margin ?? 0}
        />
      ) : (
        <p className="mt-8 text-lg">There is no funnel yet.</p>
      )}
    </>
  )
}
