import type { Metadata } from "next"
import type { ReactNode } from "react"
import { context, portalPerson } from "@/app/guard"
import { SchoolName, Worn } from "@/app/worn"
import { schoolHead, schoolLogo, schoolLook } from "@/server/school-view"
import { ActForm } from "@/ui/act-form"
import { Link } from "@/ui/link"
import { leaveAction } from "./actions"

export async function generateMetadata(): Promise<Metadata> {
  const name = (await schoolHead(context().db)).name || "Affiliates"
  return { title: { default: name, template: `%s · ${name}` }, robots: { index: false } }
}

export default async function AffiliateLayout({ children }: { children: ReactNode }) {
  const { db } = context()
  const school = await schoolHead(db)
  const look = await schoolLook(db)
  const person = await portalPerson()
  return (
    <Worn look={look}>
      <div className="mx-auto max-w-3xl px-5 pb-16">
        <header className="flex items-center justify-between gap-4 border-b border-line py-3.5 text-body">
          <Link href="/affiliate" className="font-display font-bold">
            <SchoolName name={school.name} logo={await schoolLogo(db)} />
          </Link>
          {person === null ? null : (
            <div className="flex gap-4">
              <Link href="/affiliate/account" className="inline-flex min-h-8 items-center text-soft hover:text-ink">
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
        <main className="pt-5">{children}</main>
      </div>
    </Worn>
  )
}
