import type { Metadata } from "next"
import { context } from "@/app/guard"
import { gateOf } from "@/server/course/gates"
import { noticeFor } from "@/server/notice/show"
import { safePath } from "@/server/person/way-in"
import { Notice } from "../notice"
import { SignInForm } from "./form"

export const metadata: Metadata = { title: "Sign in" }

export default async function LearnSignIn({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  const to = safePath((await searchParams).to ?? "/learn")
  const notice = await noticeFor(context(), null, "sign-in")
  const gate = await gateOf(context().db, to.split("/")[2] ?? "")
  return (
    <>
      <h1>Sign in to your courses</h1>
      <p className="mt-2">Type the e-mail address you joined or bought with.</p>
      <SignInForm to={to} />
      {notice ? <Notice notice={notice} className="mt-8" /> : null}
      {gate?.path ? (
        <p className="mt-8 border-t border-line pt-4">
          Not joined yet?{" "}
          <a href={`/${gate.path}`} className="text-slate underline">
            See what “{gate.title}” is about
          </a>
        </p>
      ) : null}
    </>
  )
}
