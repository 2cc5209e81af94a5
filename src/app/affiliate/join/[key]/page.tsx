import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { context, portalPerson } from "@/app/guard"
import { termsText } from "@/core/affiliate/words"
import { invitedTo } from "@/server/affiliate/come"
import { InvitationForm } from "./form"

export const metadata: Metadata = { title: "Invitation" }

export default async function InvitationPage({ params }: { params: Promise<{ key: string }> }) {
  const key = decodeURIComponent((await params).key)
  const s = context()
  const p = await invitedTo(s, key)
  if (!p)
    return (
      <>
        <h1>This invitation is over</h1>
        <p className="mt-2">Ask whoever sent it for another one.</p>
      </>
    )
  const person = await portalPerson()
  if (person !== null) redirect("/affiliate/programmes")
  return (
    <>
      <h1>Recommend “{p.name}”</h1>
      <p className="mt-2 font-semibold">{termsText(p.terms, null, p.currency)}</p>
      {p.about ? <p className="mt-2 whitespace-pre-line">{p.about}</p> : null}
      <p className="mt-4">
        Type your address, and the way to your own page comes to your mailbox. You read the conditions there.
      </p>
      <InvitationForm invitation={key} />
    </>
  )
}
