import { studio } from "@/app/door"
import { type MailKind, mailKinds } from "@/core/mail/kind/list"
import { countsBy } from "@/server/tally"
import { Link } from "@/ui/link"
import { moment } from "../words"

export const metadata = { title: "Mail" }

const shows = {
  due: { says: "Due next", where: "m.state = 'due'", order: "m.due_at, m.id" },
  sent: { says: "Sent lately", where: "m.state = 'sent'", order: "m.due_at DESC, m.id DESC" },
  waiting: { says: "Waiting for another try", where: "m.state = 'due' AND m.tries > 0", order: "m.try_at, m.id" },
  unsure: { says: "Unsure", where: "m.state = 'unsure'", order: "m.due_at DESC, m.id DESC" },
  rejected: { says: "Refused for good", where: "m.state = 'rejected'", order: "m.due_at DESC, m.id DESC" },
} as const

type Show = keyof typeof shows

const explain: Partial<Record<Show, string>> = {
  unsure:
    "The worker was stopped while these were being handed over. They may or may not have arrived; they are not sent again by themselves.",
  rejected: "The receiver's server said no for good. These addresses are not written to again.",
  waiting:
    "The mail server didn't take these. They are tried again by themselves, at longer and longer intervals, for three days.",
}

export default async function MailPage({ searchParams }: { searchParams: Promise<{ show?: string }> }) {
  const s = await studio()
  const asked = (await searchParams).show ?? "due"
  const show: Show = Object.hasOwn(shows, asked) ? (asked as Show) : "due"
  const zone = (await s.db.row<{ zone: string }>("SELECT zone FROM school WHERE id = 1"))?.zone ?? "UTC"
  const rows = await s.db.rows<{
    id: number
    kind: MailKind
    to_email: string
    person_id: number | null
    due_at: Date
    sent_at: Date | null
    subject: string | null
    trouble: string | null
    sequence: string | null
    mail_subject: string | null
  }>(
    `SELECT m.id, m.kind, m.to_email, m.person_id, m.due_at, m.sent_at, m.subject, m.trouble, q.name AS sequence, x.subject AS mail_subject
     FROM mail m LEFT JOIN sequence_mail x ON x.id = m.sequence_mail_id LEFT JOIN sequence q ON q.id = x.sequence_id WHERE ${shows[show].where} ORDER BY ${shows[show].order} LIMIT 100`,
  )
  const sequences = await s.db.rows<{
    id: number
    name: string
    funnel_id: number
    funnel: string
    mails: string
  }>(
    `SELECT q.id, q.name, q.funnel_id, f.name AS funnel, (SELECT COUNT(*) FROM sequence_mail m WHERE m.sequence_id = q.id) AS mails
     FROM sequence q JOIN funnel f ON f.id = q.funnel_id ORDER BY q.name LIMIT 200`,
  )
  const running = await countsBy(s.db, "running")
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Mail</h1>
      <section aria-label="Sequences" className="mt-4">
        <h2>Sequences</h2>
        {sequences.length === 0 ? (
          <p className="mt-1 text-soft">There is none yet. A funnel brings its own.</p>
        ) : (
          <ul className="mt-1">
            {sequences.map((q) => (
              <li key={q.id} className="flex flex-wrap gap-x-4 border-t border-line py-2">
                <Link
                  className="max-w-full font-semibold text-slate [overflow-wrap:anywhere] hover:underline"
                  href={`/studio/funnels/${q.funnel_id}/sequences/${q.id}`}
                >
                  {q.name}
                </Link>
                <span className="min-w-0 text-soft [overflow-wrap:anywhere]">
                  in {q.funnel}: {q.mails} e-mails, {(running.get(q.id) ?? 0).toLocaleString("en-GB")} people on their
                  way
                </span>
              </li>
            ))}
          </ul>
        )}
      </section>
      <section aria-label="E-mails" className="mt-7">
        <nav aria-label="Which e-mails" className="flex flex-wrap gap-1">
          {Object.entries(shows).map(([key, x]) => (
            <Link
              key={key}
              href={`/studio/mail?show=${key}`}
              aria-current={key === show ? "page" : undefined}
              className={`rounded-md px-2.5 py-1 ${key === show ? "bg-slate text-on-slate" : "text-slate hover:bg-card"}`}
            >
              {x.says}
            </Link>
          ))}
        </nav>
        {explain[show] ? <p className="mt-3">{explain[show]}</p> : null}
        {rows.length === 0 ? (
          <p className="mt-5 text-lg">{show === "due" ? "No e-mail is waiting to be sent." : "None."}</p>
        ) : (
          <div className="overflow-x-auto">
            <table className="mt-3 w-full table-fixed text-left min-w-[46rem]">
              <thead className="text-[0.87rem] text-soft">
                <tr className="border-b border-line">
                  <th className="w-36 py-1.5 font-semibold">{show === "sent" ? "sent" : "due"}</th>
                  <th className="w-72 font-semibold">to</th>
                  <th className="font-semibold">What</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((r) => (
                  <tr key={r.id} className="border-b border-line">
                    <td className="py-1.5">{moment(r.sent_at ?? r.due_at, zone)}</td>
                    <td className="truncate">
                      {r.person_id ? (
                        <Link className="text-slate hover:underline" href={`/studio/people/${r.person_id}`}>
                          {r.to_email}
                        </Link>
                      ) : (
                        r.to_email
                      )}
                    </td>
                    <td className="truncate" title={r.trouble ?? undefined}>
                      {r.subject ?? r.mail_subject ?? mailKinds[r.kind].label}
                      {r.trouble ? <span className="ml-2 text-[0.9rem] text-dusk">{r.trouble}</span> : null}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </section>
    </div>
  )
}
