import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { mailWay } from "@/server/mail/mail-view"
import { Back, TextLink } from "@/ui/link"
import { idOf } from "../../asked"

export const metadata = { title: "E-mail" }

/** Why somebody got an e-mail, or did not, and when: its whole way. */
export default async function MailWayPage({ params }: { params: Promise<{ mail: string }> }) {
  const s = await studio()
  const way = await mailWay(s.db, idOf((await params).mail))
  if (!way) notFound()
  return (
    <div className="mx-auto max-w-3xl pt-2">
      <Back href="/studio/mail/due?show=sent">E-mails</Back>
      <h1 className="mt-1 [overflow-wrap:anywhere]">{way.subject}</h1>
      <p className="[overflow-wrap:anywhere]">
        To {way.person ? <TextLink href={`/studio/people/${way.person}`}>{way.to}</TextLink> : way.to}
      </p>
      <ol className="mt-4 border-b border-line">
        {way.says.map((sentence) => (
          <li key={sentence} className="border-t border-line py-2">
            {sentence}
          </li>
        ))}
      </ol>
    </div>
  )
}
