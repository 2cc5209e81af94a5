import { demoAccount } from "@demo/account"
import type { Metadata } from "next"
import { redirect } from "next/navigation"
import { context } from "@/app/guard"
import { hasOwner } from "@/server/person/account"
import { DoorStep } from "./door-step"
import { MailedLink, SignInForm } from "./forms"

export const metadata: Metadata = { title: "Sign in" }

export default async function SignInPage() {
  const s = context()
  if (!(await hasOwner(s.db))) redirect("/studio/first")
  return (
    <DoorStep title="Sign in to the studio">
      <SignInForm demo={s.config.mode === "own" ? null : demoAccount} />
      <MailedLink mail={s.mailer.server !== ""} />
    </DoorStep>
  )
}
