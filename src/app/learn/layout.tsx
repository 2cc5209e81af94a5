import type { Metadata } from "next"
import type { ReactNode } from "react"
import { admitted, context } from "@/app/guard"
import { Worn } from "@/app/worn"
import { schoolHead } from "@/server/school-view"
import { leaveAction } from "./actions"

/** A learner's tab says what it is and whose school it is, not what the school is made with. */
export async function generateMetadata(): Promise<Metadata> {
  const name = (await schoolHead(context().db)).name || "Learning area"
  return { title: { default: name, template: `%s · ${name}` } }
}

export default async function LearnLayout({ children }: { children: ReactNode }) {
  return (
    <Worn
      home="/learn"
      signedIn={(await admitted()) !== null}
      leave={leaveAction}
      className="max-w-5xl"
      main="*:mx-auto *:max-w-2xl [&>.wide]:max-w-none"
    >
      {children}
    </Worn>
  )
}
