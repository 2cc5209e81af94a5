import type { Metadata } from "next"
import type { ReactNode } from "react"
import { context, portalPerson } from "@/app/guard"
import { Worn } from "@/app/worn"
import { schoolHead } from "@/server/school-view"
import { leaveAction } from "./actions"

export async function generateMetadata(): Promise<Metadata> {
  const name = (await schoolHead(context().db)).name || "Affiliates"
  return { title: { default: name, template: `%s · ${name}` }, robots: { index: false } }
}

export default async function AffiliateLayout({ children }: { children: ReactNode }) {
  return (
    <Worn home="/affiliate" signedIn={(await portalPerson()) !== null} leave={leaveAction}>
      {children}
    </Worn>
  )
}
