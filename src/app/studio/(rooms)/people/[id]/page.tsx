import { notFound, redirect } from "next/navigation"
import { studio } from "@/app/guard"
import { orderStates } from "@/core/ledger/order"
import { moneyText } from "@/core/offer/money"
import { sourceText } from "@/core/words/source"
import { knownOf, listFields } from "@/server/person/field"
import { personStory } from "@/server/person/people"
import { unitedLately } from "@/server/person/unite"
import { namesOfSources } from "@/server/programme/sources"
import { schoolZone } from "@/server/school-view"
import { Back, Link, NameLink } from "@/ui/link"
import { idOf } from "../../asked"
import { day, studioMoment } from "../../words"
import { EndAdmission } from "./end-admission"
import { Erase } from "./erase"
import { HoldMail } from "./hold-mail"
import { PersonFields } from "./person-fields"
import { Unite } from "./unite"

export const metadata = { title: "Person" }

export default async function PersonPage({ params }: { params: Promise<{ id: string }> }) {
  const s = await studio()
  const story = await personStory(s.db, idOf((await params).id))
  if (!story) notFound()
  if (story.person.unitedWith !== null) redirect(`/studio/people/${story.person.unitedWith}`)
  const zone = await schoolZone(s.db)
  const lately = await unitedLately(s, story.person.id)
  const now = await s.clock.now()
  const { person } = story
  const fields = await listFields(s.db)
  const known = Object.fromEntries((await knownOf(s.db, person.id)).map((k) => [k.field.id, k.kept]))
  return (
    <div className="mx-auto max-w-5xl pt-2">
      <Back href="/studio/people">People</Back>
      <h1 className="mt-1 break-words">
        <bdi>{person.name || person.email}</bdi>
      </h1>
      <p className="text-soft">
        joined on {day(person.joined_at, zone)} from{" "}
        {sourceText(person.source, await namesOfSources(s.db, [person.source]))} · mail comes in the time zone{" "}
        {person.zone}
      </p>
      <div className="mt-5 grid grid-cols-1 gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
        <section aria-label="What happened">
          <h2>What happened</h2>
          {story.more ? <p className="mt-1 text-soft">The latest 300 things.</p> : null}
          <ol className="mt-2">
            {story.facts.map((f) => (
              <li key={f.id} className="flex gap-4 border-t border-line py-1.5">
                <time className="w-40 shrink-0 text-note text-soft tabular-nums" dateTime={f.at.toISOString()}>
                  {studioMoment(f.at, zone)}
                </time>
                <span
                  className={
                    f.kind === "mail-rejected" || f.kind === "left-mail" || f.kind === "mail-unsure" ? "text-dusk" : ""
                  }
                >
                  {s.words.story[f.kind]?.(f) ?? f.kind}
                  {f.who ? <span className="text-soft"> (done by {f.who})</span> : null}
                </span>
              </li>
            ))}
          </ol>
        </section>
        <div className="space-y-6">
          <section aria-label="Addresses">
            <h2>Addresses</h2>
            {story.addresses.map((a) => (
              <p key={a.email} className="mt-1 break-words">
                {a.email}
                <span className="block text-note text-soft">
                  {a.confirmed_at ? `confirmed on ${day(a.confirmed_at, zone)}` : "not confirmed: typed on a form"}
                  {a.suppressed ? (
                    <strong className="text-dusk">
                      {a.suppressed === "left"
                        ? `; left the e-mails on ${day(a.suppressed_at!, zone)}`
                        : `; can't be reached: ${a.suppressed_why}`}
                    </strong>
                  ) : null}
                </span>
              </p>
            ))}
          </section>
          <Unite
            person={story.person.id}
            name={story.person.name || story.person.email}
            lately={lately.map((u) => ({ id: u.id, email: u.email, day: day(u.at, zone) }))}
          />
          <section aria-label="Consent">
            <h2>Consent</h2>
            <ul>
              {story.consents.map((c) => (
                <li key={`${c.at.getTime()}${c.kind}`} className="mt-1 text-body">
                  {c.kind === "given" ? "Given" : "Withdrawn"} on {studioMoment(c.at, zone)}{" "}
                  {c.page ? `at ${c.page}` : ""} {c.ip ? `from ${c.ip}` : ""}
                  <span className="block text-soft">“{c.wording}”</span>
                </li>
              ))}
            </ul>
          </section>
          <section aria-label="Admissions">
            <h2>May open</h2>
            {story.admissions.length === 0 ? <p className="text-soft">Nothing yet.</p> : null}
            {story.admissions.map((a) => (
              <p key={a.id} className="mt-1">
                {a.until_at === null || a.until_at.getTime() > now ? <EndAdmission id={a.id} title={a.title} /> : null}
                {a.of ? `${a.title}: ${a.done} of ${a.of} lessons done` : a.title}
                <span className="block text-note text-soft">
                  since {day(a.from_at, zone)}
                  {a.until_at ? ` until ${day(a.until_at, zone)}` : ""}, {a.origin === "by hand" ? "" : "from "}
                  {a.origin}
                </span>
              </p>
            ))}
          </section>
          {story.orders.length ? (
            <section aria-label="Orders">
              <h2>Orders</h2>
              {story.orders.map((o) => (
                <p key={o.id} className="mt-1 flex justify-between gap-3">
                  <span className="min-w-0">
                    <NameLink href={`/studio/ledger/orders/${o.first_id ?? o.id}`}>{`${o.id}: ${o.bought}`}</NameLink>
                    <span className="block text-note text-soft">
                      {orderStates[o.state]}, {day(o.made_at, zone)}
                    </span>
                  </span>
                  <span className="tabular-nums">{moneyText(o.gross, o.currency)}</span>
                </p>
              ))}
            </section>
          ) : null}
          <section aria-label="Sequences">
            <h2>Sequences</h2>
            {story.sequences.length === 0 ? <p className="text-soft">None.</p> : null}
            {story.sequences.map((q) => (
              <p key={q.name} className="mt-1">
                {q.name}: {q.sent} sent
                <span className="block text-note text-soft">
                  {q.ended_at
                    ? `${q.ended_why} on ${day(q.ended_at, zone)}`
                    : q.next
                      ? `the next on ${studioMoment(q.next, zone)}`
                      : "on its way"}
                </span>
              </p>
            ))}
          </section>
          <section aria-label="E-mails">
            <h2>E-mails</h2>
            {story.mails.length === 0 ? <p className="text-soft">None.</p> : null}
            {story.mails.map((m) => (
              <p key={m.id} className="mt-1 flex justify-between gap-3">
                <Link className="min-w-0 truncate text-slate hover:underline" href={`/studio/mail/${m.id}`}>
                  {m.subject}
                </Link>
                <span className="text-note whitespace-nowrap text-soft">
                  {m.state === "sent" ? "" : `${m.state}, `}
                  {day(m.at, zone)}
                </span>
              </p>
            ))}
            <HoldMail person={person.id} held={story.held} />
          </section>
          {fields.length ? <PersonFields person={person.id} fields={fields} known={known} /> : null}
          <section aria-label="Tags">
            <h2>Tags</h2>
            <p className="mt-1">
              {story.tags.length ? story.tags.join(", ") : <span className="text-soft">None.</span>}
            </p>
          </section>
          <section aria-label="What is kept">
            <h2>What is kept of them</h2>
            <Erase person={person.id} name={person.name || person.email} />
          </section>
        </div>
      </div>
    </div>
  )
}
