import type { Metadata } from "next"
import type { ReactNode } from "react"
import { admitted, context } from "@/app/guard"
import { SchoolName, Worn } from "@/app/worn"
import { schoolHead, schoolLogo, schoolLook } from "@/server/school-view"
import { ActForm } from "@/ui/act-form"
import { Link } from "@/ui/link"
import { leaveAction } from "./actions"

/** A learner's tab says what it is and whose school it is, not what the school is made with. */
export async function generateMetadata(): Promise<Metadata> {
  const name = (await schoolHead(context().db)).name || "Learning area"
  return { title: { default: name, template: `%s · ${name}` } }
}

export default async function LearnLayout({ children }: { children: ReactNode }) {
  const { db } = context()
  const school = await schoolHead(db)
  const person = await admitted()
  return (
    <Worn look={await schoolLook(db)}>
      <div className="mx-auto max-w-5xl px-5 pb-16">
        <header className="flex items-center justify-between gap-4 border-b border-line py-3.5 text-body">
          <Link href="/learn" className="font-display font-bold">
            <SchoolName name={school.name} logo={await schoolLogo(db)} />
          </Link>
          {person === null ? null : (
            <div className="flex gap-4">
              <Link href="/learn/account" className="inline-flex min-h-8 items-center text-soft hover:text-ink">
                Account
              </Link>
              <ActForm act={leaveAction}>
                <button type="submit" className="min-h-8 text-soft hover:text-ink">
                  Sign out
                </button>
              </ActForm>
            </div>
          )}
        </header>
        <main className="pt-6 *:mx-auto *:max-w-2xl [&>.wide]:max-w-none">{children}</main>
      </div>
    </Worn>
  )
}
