import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { readDelivery } from "@/server/mail/dkim"
import { readPace, slowedDown } from "@/server/mail/pace"
import { notWrittenTo, ratesOf, reportToken } from "@/server/mail/report"
import { schoolZone } from "@/server/school-view"
import { NameLink, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../../place-tabs"
import { day, studioMoment } from "../../words"
import { DomainForm, MakeKey, PaceForm, TryAgain } from "./forms"

export const metadata = { title: "Delivery" }

const stateWords = {
  well: "As it should be",
  missing: "Not there",
  twice: "There twice: receivers take neither",
  other: "Says something else",
  "no-answer": "The name system doesn’t answer",
} as const

const kindWords = {
  spf: "SPF: who may send for the domain",
  dkim: "DKIM: the key that your signature is checked with",
  dmarc: "DMARC: what receivers do with what fails",
} as const

/** E-mails a minute, in words. */
function perMinute(n: number): string {
  if (n >= 1) return `${Math.round(n).toLocaleString(locale)} a minute`
  return `one in ${Math.round(1 / n)} minutes`
}

const share = (n: number, of: number) => `${((100 * n) / of).toFixed(2)} %`

function Rates({ sent, bounced, complained }: { sent: number; bounced: number; complained: number }) {
  return (
    <>
      <p>
        <strong className="text-xl tabular-nums">{sent.toLocaleString(locale)}</strong>{" "}
        {sent === 1 ? "e-mail" : "e-mails"} in seven days
      </p>
      <p className={bounced > sent * 0.02 ? "text-dusk" : ""}>
        <strong className="text-xl tabular-nums">{share(bounced, sent)}</strong> came back (2 % is much)
      </p>
      <p className={complained > sent * 0.001 ? "text-dusk" : ""}>
        <strong className="text-xl tabular-nums">{share(complained, sent)}</strong> complained (0.1 % is much)
      </p>
    </>
  )
}

export default async function DeliveryPage() {
  const s = await studio()
  const delivery = await readDelivery(s)
  const rates = await ratesOf(s.db, await s.clock.now())
  const stopped = await notWrittenTo(s.db)
  const zone = await schoolZone(s.db)
  const pace = await readPace(s.db)
  const slowed = await slowedDown(s.db)
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Mail</h1>
      <PlaceTabs of="mail" className="mt-2" />
      <section aria-label="Of seven days" className="mt-4 flex flex-wrap gap-x-8 gap-y-2">
        {rates.sent === 0 ? <p>No e-mail has gone out in the last seven days.</p> : <Rates {...rates} />}
      </section>
      <section aria-label="The domain" className="mt-6 border-t border-line pt-4">
        <h2>{delivery.domain || "The sender’s domain"}</h2>
        {delivery.domain ? (
          <>
            <p className="text-soft">
              These records tell receivers that your mail is yours. Whoever runs your domain puts them in.
            </p>
            <ul className="mt-2">
              {delivery.records.map((r) => (
                <li key={r.name} className="border-t border-line py-2.5">
                  <div className="flex flex-wrap items-baseline justify-between gap-x-4">
                    <strong>{kindWords[r.kind]}</strong>
                    <span className={r.state === "well" ? "text-reed" : "font-semibold text-dusk"}>
                      {stateWords[r.state]}
                    </span>
                  </div>
                  {r.kind === "spf" && !delivery.include && r.state !== "well" ? (
                    <p className="text-note">
                      Say below what your mail provider wants in it; then the whole record stands here.
                    </p>
                  ) : (
                    <>
                      <p className="text-note text-soft">TXT at {r.name}</p>
                      <pre className="mt-1 rounded-md border border-line bg-card p-2 text-fine break-all whitespace-pre-wrap">
                        {r.value}
                      </pre>
                    </>
                  )}
                  {r.state === "other" || r.state === "twice" ? (
                    <p className="mt-1 text-label [overflow-wrap:anywhere]">There now: {r.found.join(" / ")}</p>
                  ) : null}
                </li>
              ))}
            </ul>
            <DomainForm include={delivery.include} />
            <MakeKey signed={delivery.signed} />
          </>
        ) : (
          <p>
            Mail has no sender yet. <TextLink href="/studio/settings">Set the sender</TextLink>
          </p>
        )}
      </section>
      <section aria-label="Sending rate" className="mt-6 border-t border-line pt-4">
        <h2>Sending rate</h2>
        <p className="text-soft">
          As your mail provider asks for it. What somebody waits for, such as a receipt, never waits. A receiver that
          answers “later” is sent half as much, and more again once it has taken everything for a minute.
        </p>
        <PaceForm {...pace} />
        {slowed.length ? (
          <ul className="mt-3">
            {slowed.map((x) => (
              <li key={x.domain} className="border-t border-line py-1.5">
                <strong>{x.domain}</strong> gets {perMinute(x.perMinute)} since {studioMoment(x.since, zone)}:{" "}
                <span className="text-soft [overflow-wrap:anywhere]">“{x.says}”</span>
              </li>
            ))}
          </ul>
        ) : null}
      </section>
      <section aria-label="Not written to" className="mt-6 border-t border-line pt-4">
        <h2>Not written to any more</h2>
        {stopped.length === 0 ? (
          <p className="text-soft">Nobody.</p>
        ) : (
          <Table
            className="mt-2 min-w-[40rem] table-fixed"
            columns={[
              { says: "Address", wide: "w-72" },
              { says: "Since", wide: "w-32" },
              { says: "Why" },
              { says: "Written again", wide: "w-28" },
            ]}
          >
            {stopped.map((x) => (
              <tr key={x.email} className="border-b border-line align-top">
                <td className="truncate py-1.5">
                  <NameLink href={`/studio/people/${x.person}`}>{x.email}</NameLink>
                </td>
                <td className="py-1.5">{x.at ? day(x.at, zone) : ""}</td>
                <td className="py-1.5 [overflow-wrap:anywhere]">
                  {x.why ?? (x.as === "left" ? "has unsubscribed" : "can’t be reached")}
                </td>
                <td className="py-1">{x.as === "undeliverable" ? <TryAgain email={x.email} /> : null}</td>
              </tr>
            ))}
          </Table>
        )}
        {stopped.length === 200 ? <p className="mt-1 text-soft">The latest 200.</p> : null}
      </section>
      <details className="mt-6 border-t border-line pt-4">
        <summary className="text-slate">Where bounces and complaints are handed in</summary>
        <p className="mt-2">
          Every e-mail has a return address of its own at {delivery.domain || "your domain"}, beginning with{" "}
          <code>bounce-</code>. Have what comes there, and the complaints your mail provider passes on, posted as it
          came to:
        </p>
        <pre className="mt-1 overflow-x-auto rounded-md border border-line bg-card p-2 text-fine">
          {s.config.origin}/hooks/mail/{reportToken(s.config.secret)}
        </pre>
        <p className="mt-1 text-soft">Whoever knows this address can report on your mail. Keep it to yourself.</p>
      </details>
    </div>
  )
}
