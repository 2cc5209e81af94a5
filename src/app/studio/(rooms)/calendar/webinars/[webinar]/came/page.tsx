import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { boughtWithin, type Came, dropsOf, type Lead, meanCurve, stagesOf } from "@/core/webinar/came"
import { countedAs, figures } from "@/core/words/figures"
import { type Reminded, whatCame } from "@/server/webinar/came"
import { listDates } from "@/server/webinar/dates"
import { readWebinar } from "@/server/webinar/webinar"
import { Back } from "@/ui/link"
import { Table } from "@/ui/table"
import { idOf } from "../../../../asked"
import { dated, people } from "../../../../words"
import { CurveChart, type Mark } from "./curve-chart"
import { WhichDate } from "./which-date"

export const metadata = { title: "What came of it" }

const stageWords = {
  registered: figures.registered.name.toLowerCase(),
  came: figures.came.name.toLowerCase(),
  stayed: figures.stayed.name.toLowerCase(),
  saw: "saw the offer",
  pressed: "pressed it",
  bought: "bought",
} as const satisfies Record<keyof Came, string>

const leadWords: Record<Lead, string> = {
  hour: "in the last hour",
  day: "on the last day",
  "three-days": "one to three days before",
  week: "three to seven days before",
  longer: "earlier",
}

const reminderWords: Record<Reminded, string> = {
  opened: "opened a reminder",
  "not-opened": "was sent some, opened none",
  none: "registered too late for any",
}

const percent = (p: number) => `${(100 * p).toFixed(0)} %`

export default async function CamePage({
  params,
  searchParams,
}: {
  params: Promise<{ webinar: string }>
  searchParams: Promise<{ date?: string }>
}) {
  const s = await studio()
  const id = idOf((await params).webinar)
  const date = Number((await searchParams).date) || null
  const webinar = (await readWebinar(s.db, id))?.value
  const found = await whatCame(s.db, id, date)
  if (!webinar || !found) notFound()
  const held = (await listDates(s, id, "behind")).filter((d) => !d.calledOff)
  const curves = found.curves
  const one = curves.length === 1 ? curves[0]! : null
  const main = one ? one.curve : meanCurve(curves.map((c) => c.curve))
  const marks: Mark[] = [
    ...(webinar.offer !== null && webinar.offerMinute < main.length
      ? [{ minute: webinar.offerMinute, says: "Offer", of: "offer" as const }]
      : []),
    ...(curves[0]?.polls ?? []).map((p) => ({ minute: p.minute, says: "Poll", of: "poll" as const })),
    ...dropsOf(main, one ? 3 : 1).map((d) => ({
      minute: d.minute,
      says: `${Math.round(d.left)} left`,
      of: "drop" as const,
    })),
  ]
  return (
    <div className="mx-auto max-w-6xl pt-2">
      <Back href={`/studio/calendar/webinars/${id}`}>{webinar.title}</Back>
      <div className="mt-1 flex flex-wrap items-end justify-between gap-4">
        <h1>What came of it</h1>
        <WhichDate chosen={date} dates={held.map((d) => ({ id: d.id, says: dated(d.starts, webinar.zone) }))} />
      </div>
      {found.all.registered === 0 ? (
        <p className="mt-4 text-soft">
          {held.length ? "Nobody had a seat on that date." : "Nothing yet: this is worked out once a date is over."}
        </p>
      ) : (
        <>
          <ol className="mt-4 grid grid-cols-3 gap-x-4 gap-y-3 border-y border-line py-3 sm:grid-cols-6">
            {stagesOf(found.all).map(({ stage, share }) => (
              <li key={stage}>
                <strong className="block font-heading text-[1.7rem] leading-tight tabular-nums">{share.hits}</strong>
                <span className="font-semibold">{stageWords[stage]}</span>
                {stage === "registered" ? null : (
                  <span className="block text-fine text-soft tabular-nums">
                    {percent(share.hits / share.of)} ({percent(share.low)} to {percent(share.high)})
                  </span>
                )}
              </li>
            ))}
          </ol>
          <p className="mt-2 text-label text-soft">
            {countedAs(["registered", "came", "stayed"])} That is {webinar.attended} % of it. Shares are of everybody
            registered, with what they lie between at 95 % certainty. Bought: paid for what it leads to within{" "}
            {boughtWithin} days, and not given back. Whoever bought after a webinar need not have bought because of it.
          </p>
          <section aria-label="Who was there" className="mt-5">
            <h2>
              {one ? `Who was there on ${dated(one.starts, webinar.zone)}` : `Who was there, ${curves.length} dates`}
            </h2>
            <CurveChart
              main={main}
              behind={one ? [] : curves.map((c) => ({ name: dated(c.starts, webinar.zone), curve: c.curve }))}
              marks={marks}
            />
          </section>
          <div className="mt-6 grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-2">
            <Split
              title="By when they registered"
              rows={found.byLead.map((r) => ({ ...r, name: leadWords[r.lead] }))}
            />
            <Split
              title="By reminder"
              rows={found.byReminder.map((r) => ({ ...r, name: reminderWords[r.reminder] }))}
            />
            <div className="lg:col-span-2">
              <Split title="By source" rows={found.bySource.map((r) => ({ ...r, name: r.source }))} />
            </div>
          </div>
        </>
      )}
    </div>
  )
}

/** The same stages for parts of everybody, each with how many of them came. */
function Split({ title, rows }: { title: string; rows: readonly (Came & { readonly name: string })[] }) {
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <Table
        columns={[
          { says: <span className="sr-only">{title}</span>, key: "name" },
          { says: figures.registered.name, right: true, wide: "w-20" },
          { says: figures.came.name, right: true, wide: "w-[6.5rem]" },
          { says: figures.stayed.name, right: true, wide: "w-[4.2rem]" },
          { says: "Pressed", right: true, wide: "w-[4.2rem]" },
          { says: "Bought", right: true, wide: "w-[4.2rem]" },
        ]}
      >
        {rows.map((r) => {
          const came = stagesOf(r)[1]!.share
          return (
            <tr key={r.name} className="border-b border-line tabular-nums">
              <th scope="row" className="py-1.5 text-left font-normal [overflow-wrap:anywhere]">
                {r.name}
              </th>
              <td className="text-right">{r.registered}</td>
              <td className="text-right" title={came.of ? `${people(came.hits)} of ${came.of}` : undefined}>
                {came.hits}
                {came.of ? (
                  <span className="block text-fine leading-tight text-soft">
                    {percent(came.low)}–{percent(came.high)}
                  </span>
                ) : null}
              </td>
              <td className="text-right">{r.stayed}</td>
              <td className="text-right">{r.pressed}</td>
              <td className="text-right">{r.bought}</td>
            </tr>
          )
        })}
      </Table>
    </section>
  )
}
