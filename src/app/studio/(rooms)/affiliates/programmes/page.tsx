import { studio } from "@/app/guard"
import { programmeRuns } from "@/core/affiliate/programme"
import { termsText } from "@/core/affiliate/words"
import { offerNames } from "@/server/offer/offer-view"
import { listProgrammes, programmeCounts } from "@/server/programme/programme"
import { Button } from "@/ui/button"
import { Link, NameLink, TextLink } from "@/ui/link"

export const metadata = { title: "Programmes" }

export default async function ProgrammesPage() {
  const s = await studio()
  const now = await s.clock.now()
  const programmes = await listProgrammes(s.db)
  const counts = await programmeCounts(s.db)
  const without = (await offerNames(s.db)).filter((o) => !programmes.some((p) => p.offer === o.id))
  return (
    <>
      <h1 className="mt-4">Programmes</h1>
      <p className="mt-1 max-w-2xl text-soft">
        What you pay for recommending an offer, and what affiliates have to do it with: each offer has one of its own.
      </p>
      {programmes.map((p) => (
        <article key={p.offer} className="mt-4 border-t border-line pt-3">
          <div className="flex flex-wrap items-baseline justify-between gap-x-4">
            <h2>
              <NameLink href={`/studio/affiliates/programmes/${p.offer}`}>{p.name}</NameLink>
            </h2>
            <span className={programmeRuns(p, now) ? "font-semibold text-reed" : "text-soft"}>
              {programmeRuns(p, now) ? "on" : p.on ? "not now" : "off"}
            </span>
          </div>
          <p>{termsText(p.terms, null, p.currency)}</p>
          <p className="text-body text-soft">
            {counts.get(p.offer) === 1 ? "1 affiliate takes part" : `${counts.get(p.offer) ?? 0} affiliates take part`}
          </p>
        </article>
      ))}
      {without.length ? (
        <section aria-label="Offers without a programme" className="mt-6 border-t border-line pt-3">
          <h2>Offers without a programme</h2>
          <ul className="mt-1">
            {without.map((o) => (
              <li
                key={o.id}
                className="flex flex-wrap items-center justify-between gap-x-4 border-t border-line py-1.5"
              >
                <span className="min-w-0 truncate">{o.name}</span>
                <Button asChild>
                  <Link href={`/studio/affiliates/programmes/${o.id}`} aria-label={`Set one up: ${o.name}`}>
                    Set one up
                  </Link>
                </Button>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {programmes.length + without.length === 0 ? (
        <p className="mt-6 text-lg">
          There is nothing to recommend yet: <TextLink href="/studio/offers">make an offer first</TextLink>.
        </p>
      ) : null}
    </>
  )
}
