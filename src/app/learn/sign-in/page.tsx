import type { Metadata } from "next"
import { safePath } from "@/server/person/way-in"
import { AskForm } from "./form"

export const metadata: Metadata = { title: "Sign in" }

export default async function LearnSignIn({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  return (
    <>
      <h1>Sign in to your courses</h1>
      <p className="mt-2">
        Type the e-mail address you joined with. We mail you a link that signs you in; there is no password to remember.
      </p>
      <AskForm to={safePath((await searchParams).to ?? "/learn")} />
    </>
  )
}
