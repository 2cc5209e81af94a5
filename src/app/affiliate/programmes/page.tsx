import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { context, portalPerson } from "@/app/guard"
import { termsText } from "@/core/affiliate/words"
import { affiliateOf } from "@/server/affiliate/affiliate"
import { askedFor, openTo, partsFor, wordsOfConditions } from "@/server/affiliate/portal"
import { TextLink } from "@/ui/link"
import { Join } from "./join"

export const metadata: Metadata = { title: "Programmes" }

/** What can be recommended: the conditions of each, to be agreed to. */
export default async function ProgrammesPage() {
  const person = await portalPerson()
  if (person === null) redirect("/affiliate/sign-in")
  const { db, clock } = context()
  const now = await clock.now()
  const a = await affiliateOf(db, person)
  const parts = a ? await partsFor(db, a.id, now) : []
  const within = new Set(parts.map((p) => p.programme.offer))
  const asked = a ? await askedFor(db, a.id) : []
  const open = await openTo(db, a?.id ?? null, now)
  const entries = [
    ...parts.map((p) => ({
      programme: p.programme,
      rate: p.rate,
      runs: p.runs,
      agreed: p.agreed && p.agreedVersion > 0,
    })),
    ...open.map((programme) => ({ programme, rate: null, runs: true, agreed: false })),
  ]
  return (
    <>
      {a && a.state === "active" ? (
        <p className="text-body">
          <TextLink href="/affiliate">‹ Your affiliate page</TextLink>
        </p>
      ) : null}
      <h1 className="mt-1">{a?.state === "active" ? "Programmes" : "Recommend, and be paid for it"}</h1>
      {asked.map((name) => (
        <p key={name} role="status" className="mt-3 rounded-md bg-card p-3">
          You have asked to recommend “{name}”. You hear by e-mail as soon as you can begin.
        </p>
      ))}
      {entries.length === 0 && asked.length === 0 ? (
        <p className="mt-3 text-lg">There is nothing to recommend just now.</p>
      ) : null}
      {
        await Promise.all(
          entries.map(async ({ programme: p, rate, runs, agreed }) => (
            <section key={p.offer} aria-label={p.name} className="mt-6 border-t border-line pt-4">
              <h2>{p.name}</h2>
              <p className="mt-1 font-semibold">{termsText(p.terms, rate, p.currency)}</p>
              {p.about ? <p className="mt-2 whitespace-pre-line">{p.about}</p> : null}
              {runs ? (
                <Join
                  offer={p.offer}
                  name={p.name}
                  version={p.conditionsVersion}
                  conditions={await wordsOfConditions(db, p)}
                  agreed={agreed || (p.conditionsVersion === 0 && within.has(p.offer))}
                  approved={p.approve === "at-once" || within.has(p.offer)}
                />
              ) : (
                <p className="mt-2 text-soft">It does not run just now.</p>
              )}
            </section>
          )),
        )
      }
    </>
  )
}
