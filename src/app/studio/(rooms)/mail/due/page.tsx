import { studio } from "@/app/guard"
import { mailKinds } from "@/core/mail/kind/list"
import { listMail, type Show, shows } from "@/server/mail/mail-view"
import { schoolZone } from "@/server/school-view"
import { Link, NameLink } from "@/ui/link"
import { Table } from "@/ui/table"
import { PlaceTabs } from "../../place-tabs"
import { moment } from "../../words"

export const metadata = { title: "Due and sent" }

const titles = {
  due: "Due next",
  sent: "Sent lately",
  waiting: "Waiting for another try",
  held: "Held",
  unsure: "Unsure",
  rejected: "Refused for good",
} as const satisfies Record<Show, string>

const explain: Partial<Record<Show, string>> = {
  held: "These were due while something is paused. They go when it goes on.",
  unsure:
    "No word came of whether the mail server took these. They may or may not have arrived; they are not sent again by themselves.",
  rejected: "The receiver's server said no for good. These addresses are not written to again.",
  waiting:
    "The mail server didn't take these. They are tried again by themselves, at longer and longer intervals, for three days.",
}

export default async function MailPage({ searchParams }: { searchParams: Promise<{ show?: string }> }) {
  const s = await studio()
  const asked = (await searchParams).show ?? "due"
  const show: Show = shows.find((x) => x === asked) ?? "due"
  const zone = await schoolZone(s.db)
  const rows = await listMail(s.db, show)
  return (
    <div className="mx-auto max-w-5xl pt-4">
      <h1>Mail</h1>
      <PlaceTabs of="mail" className="mt-2" />
      <section aria-label="E-mails" className="mt-7">
        <nav aria-label="Which e-mails" className="flex flex-wrap gap-1">
          {Object.entries(titles).map(([key, says]) => (
            <Link
              key={key}
              href={`/studio/mail/due?show=${key}`}
              aria-current={key === show ? "page" : undefined}
              className={`rounded-md px-2.5 py-1 ${key === show ? "bg-slate text-on-slate" : "text-slate hover:bg-card"}`}
            >
              {says}
            </Link>
          ))}
        </nav>
        {explain[show] ? <p className="mt-3">{explain[show]}</p> : null}
        {rows.length === 0 ? (
          <p className="mt-5 text-lg">{show === "due" ? "No e-mail is waiting to be sent." : "None."}</p>
        ) : (
          <Table
            className="mt-3 table-fixed min-w-[46rem]"
            columns={[
              { says: show === "sent" ? "Sent" : "Due", wide: "w-36" },
              { says: "To", wide: "w-72" },
              { says: "What" },
            ]}
          >
            {rows.map((r) => (
              <tr key={r.id} className="border-b border-line">
                <td className="py-1.5">{moment(r.sent_at ?? r.due_at, zone)}</td>
                <td className="truncate">
                  {r.person_id ? <NameLink href={`/studio/people/${r.person_id}`}>{r.to_email}</NameLink> : r.to_email}
                </td>
                <td className="truncate" title={r.trouble ?? undefined}>
                  <NameLink href={`/studio/mail/${r.id}`}>
                    {r.subject ?? r.mail_subject ?? mailKinds[r.kind].label}
                  </NameLink>
                  {r.trouble ? <span className="ml-2 text-note text-dusk">{r.trouble}</span> : null}
                </td>
              </tr>
            ))}
          </Table>
        )}
      </section>
    </div>
  )
}
