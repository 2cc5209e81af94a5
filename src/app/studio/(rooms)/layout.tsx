import type { ReactNode } from "react"
import { studio } from "@/app/guard"
import { findables } from "@/server/find-view"
import { schoolZone } from "@/server/school-view"
import { ActForm } from "@/ui/act-form"
import { FreshOnBack } from "@/ui/fresh-on-back"
import { Heron } from "@/ui/heron"
import { Link } from "@/ui/link"
import { signOutAction } from "../sign-in/actions"
import { Clock } from "./clock"
import { FindOrDo } from "./find"
import { Places } from "./places"

export default async function Rooms({ children }: { children: ReactNode }) {
  const s = await studio()
  const zone = await schoolZone(s.db)
  const now = await s.clock.now()
  const found = await findables(s.db)
  return (
    <>
      <FreshOnBack />
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-card focus:p-2">
        Skip to the content
      </a>
      <header className="bg-bar text-[#f4f1e8]">
        <div className="flex min-h-11 flex-wrap items-center gap-x-1 px-5 py-1 min-[79rem]:h-11 min-[79rem]:flex-nowrap min-[79rem]:py-0">
          <Link
            href="/studio"
            className="mr-4 flex items-center gap-2 font-display text-lead font-bold whitespace-nowrap"
          >
            <Heron /> Swift Heron
          </Link>
          <Places />
          <div className="ml-auto flex items-center gap-3 py-0.5">
            <Clock now={now} zone={zone} movable={s.config.mode !== "own"} />
            <FindOrDo found={found} />
            <ActForm act={signOutAction}>
              <button
                type="submit"
                className="rounded px-1 text-label whitespace-nowrap text-[#c9d4d3] hover:text-white"
              >
                Sign out
              </button>
            </ActForm>
          </div>
        </div>
      </header>
      <main id="main" className="px-5 pt-3 pb-8">
        {children}
      </main>
    </>
  )
}
