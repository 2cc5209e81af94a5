import type { Metadata } from "next"
import { notFound } from "next/navigation"
import { context } from "@/app/guard"
import { readInvitation } from "@/server/course/let-in"
import { InvitationForm } from "./form"

export const metadata: Metadata = { title: "Invitation", robots: { index: false } }

export default async function InvitationPage({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params
  const found = await readInvitation(context(), decodeURIComponent(key))
  if (!found) notFound()
  return (
    <>
      <h1>You are invited to “{found.title}”</h1>
      {found.over ? (
        <p className="mt-3">This invitation is used up or has ended. Ask whoever sent it for another one.</p>
      ) : (
        <>
          <p className="mt-2">Type your address, and the way in comes to your mailbox.</p>
          <InvitationForm invitation={decodeURIComponent(key)} />
        </>
      )}
    </>
  )
}
