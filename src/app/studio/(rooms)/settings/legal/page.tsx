import { studio } from "@/app/guard"
import { legalKinds, legalLacks, legalSkeleton } from "@/core/page/legal"
import { legalFacts, readLegal } from "@/server/page/legal"
import { schoolZone } from "@/server/school-view"
import { day } from "../../words"
import { LegalForm } from "./legal-form"

export const metadata = { title: "Legal pages" }

/** Imprint, privacy and terms: written here, linked at the foot of every page. */
export default async function LegalPage() {
  const s = await studio()
  const facts = await legalFacts(s)
  const zone = await schoolZone(s.db)
  const skeletons = Object.fromEntries(legalKinds.map((kind) => [kind, legalSkeleton(kind, facts)]))
  return (
    <>
      <h1 className="mt-4">Legal pages</h1>
      <p className="mt-1 text-soft">
        They stand at the foot of every page once they are published. A beginning is written from what is set here; have
        it read by somebody who knows your law.
      </p>
      {legalLacks(facts).map((l) => (
        <p key={l} className="mt-2 font-semibold text-dusk">
          {l}
        </p>
      ))}
      {(await readLegal(s.db)).map((l) => (
        <LegalForm
          key={l.kind}
          legal={l}
          skeleton={skeletons[l.kind] ?? ""}
          shown={l.shownAt === null ? null : day(l.shownAt, zone)}
        />
      ))}
    </>
  )
}
