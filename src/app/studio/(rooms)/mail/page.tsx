import { studio } from "@/app/guard"
import { locale } from "@/core/words/locale"
import { boughtAfterBroadcast, lookedBack, type Works, whatWorks } from "@/server/broadcast/overview"
import { Link, TextLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../place-tabs"

export const metadata = { title: "Mail" }

const states: Readonly<Record<string, string>> = {
  draft: "Draft",
  live: "Live",
  paused: "Paused",
  planned: "Planned",
  stopped: "Stopped",
  sent: "Sent",
}

export default async function MailPage() {
  const s = await studio()
  const works = await whatWorks(s.db, await s.clock.now())
  return (
    <div className="mx-auto max-w-6xl pt-4">
      <h1>Mail</h1>
      <PlaceTabs of="mail" className="mt-2" />
      <section aria-label="What works" className="mt-6">
        {works.length === 0 ? (
          <p className="mt-5 text-lg">
            Nothing is written yet. Begin with <TextLink href="/studio/mail/sequences">a sequence</TextLink> that
            follows up, or <TextLink href="/studio/mail/broadcasts">a broadcast</TextLink> to many at once.
          </p>
        ) : (
          <>
            <Table
              className="min-w-[46rem] table-fixed"
              columns={[
                { says: "Sequence or broadcast" },
                { says: "Sent", wide: "w-24", right: true },
                { says: "Opened", wide: "w-28", right: true },
                { says: "Clicked", wide: "w-28", right: true },
                { says: "Bought", wide: "w-24", right: true },
                { says: "Left", wide: "w-24", right: true },
              ]}
            >
              {works.map((w) => (
                <tr key={`${w.is}${w.id}`} className="border-b border-line align-top tabular-nums">
                  <td className="py-1.5 pr-3">
                    <Link
                      className="font-semibold [overflow-wrap:anywhere] text-slate hover:underline"
                      href={`/studio/mail/${w.is.toLowerCase()}s/${w.id}`}
                    >
                      <bdi>{w.name}</bdi>
                    </Link>
                    <span className="block text-label text-soft">
                      {w.is}, {(states[w.state] ?? w.state).toLowerCase()}
                    </span>
                  </td>
                  <td className="py-1.5 text-right">{w.sent.toLocaleString(locale)}</td>
                  <Share n={w.opened} of={w.sent} />
                  <Share n={w.clicked} of={w.sent} />
                  <td className="py-1.5 text-right">{w.bought ? w.bought.toLocaleString(locale) : "–"}</td>
                  <td className="py-1.5 text-right">{w.left ? w.left.toLocaleString(locale) : "–"}</td>
                </tr>
              ))}
            </Table>
            <p className="mt-3 max-w-3xl text-note text-soft">
              Of the last {lookedBack} days. Sent, opened and clicked are e-mails; opens are told by a picture that some
              programs load by themselves. Bought are people who paid for something within {boughtAfterBroadcast} days
              of getting one; left are people who unsubscribed by one.
            </p>
          </>
        )}
      </section>
    </div>
  )
}

function Share({ n, of }: { n: Works["opened"]; of: number }) {
  return (
    <td className="py-1.5 text-right">
      {n ? n.toLocaleString(locale) : "–"}
      {n && of ? <span className="block text-label text-soft">{((100 * n) / of).toFixed(1)} %</span> : null}
    </td>
  )
}
