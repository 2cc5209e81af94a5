import type { Metadata } from "next"
import { activeAffiliateHere, context } from "@/app/guard"
import { partsFor, readyFor } from "@/server/affiliate/portal"
import { ReadyToUse } from "../../ready-to-use"

export const metadata: Metadata = { title: "Materials" }

export default async function WordsPage() {
  const a = await activeAffiliateHere()
  const s = context()
  const parts = (await partsFor(s.db, a.id, await s.clock.now())).filter((p) => p.runs)
  return (
    <>
      <h1>Materials</h1>
      <p className="mt-1 text-soft">Words and pictures ready to use: your link stands in each of them already.</p>
      {
        await Promise.all(
          parts.map(async (p) => (
            <section key={p.programme.offer} aria-label={p.programme.name} className="mt-6">
              <h2>{p.programme.name}</h2>
              <ReadyToUse all={await readyFor(s, a, p.programme)} />
            </section>
          )),
        )
      }
      {parts.length === 0 ? <p className="mt-4">No programme of yours runs just now.</p> : null}
    </>
  )
}
