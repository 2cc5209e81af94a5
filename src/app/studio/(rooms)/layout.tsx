import type { ReactNode } from "react"
import { studio } from "@/app/door"
import { FreshOnBack } from "@/ui/fresh-on-back"
import { Heron } from "@/ui/heron"
import { Link } from "@/ui/link"
import { signOutAction } from "../sign-in/actions"
import { Clock } from "./clock"
import { FindOrDo } from "./find"
import { Places } from "./places"

export default async function Rooms({ children }: { children: ReactNode }) {
  const s = await studio()
  const school = await s.db.row<{ zone: string }>("SELECT zone FROM school WHERE id = 1")
  const now = await s.clock.now()
  const funnels = await s.db.rows<{ id: number; name: string }>("SELECT id, name FROM funnel ORDER BY name LIMIT 200")
  const courses = await s.db.rows<{ id: number; title: string }>(
    "SELECT id, title FROM course ORDER BY title LIMIT 200",
  )
  const steps = await s.db.rows<{ id: number; name: string; funnel_id: number; funnel: string; kind: string }>(
    "SELECT t.id, t.name, t.kind, t.funnel_id, f.name AS funnel FROM step t JOIN funnel f ON f.id = t.funnel_id WHERE t.kind <> 'learning' ORDER BY f.name, t.position LIMIT 400",
  )
  const offers = await s.db.rows<{ id: number; name: string }>(
    "SELECT id, IF(internal_name = '', public_name, internal_name) AS name FROM offer WHERE removed_at IS NULL ORDER BY name LIMIT 200",
  )
  const found = [
    ...funnels.map((f) => ({ group: "Funnels", name: f.name, href: `/studio/funnels/${f.id}` })),
    ...steps.map((t) => ({
      group: "Pages",
      name: `${t.name} (${t.funnel})`,
      href: `/studio/funnels/${t.funnel_id}/steps/${t.id}`,
    })),
    ...offers.map((o) => ({ group: "Offers", name: o.name, href: `/studio/offers/${o.id}` })),
    ...courses.map((c) => ({ group: "Courses", name: c.title, href: `/studio/courses/${c.id}` })),
  ]
  return (
    <>
      <FreshOnBack />
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-card focus:p-2">
        Skip to the content
      </a>
      <header className="bg-bar text-[#f4f1e8]">
        <div className="flex min-h-11 flex-wrap items-center gap-x-1 px-5 py-1 lg:h-11 lg:flex-nowrap lg:py-0">
          <Link
            href="/studio"
            className="mr-4 flex items-center gap-2 font-display text-[1.05rem] font-bold whitespace-nowrap"
          >
            <Heron /> Swift Heron
          </Link>
          <Places />
          <div className="ml-auto flex items-center gap-3 py-0.5">
            <Clock now={now} zone={school?.zone ?? "UTC"} movable={s.config.mode !== "own"} />
            <FindOrDo found={found} />
            <form action={signOutAction}>
              <button
                type="submit"
                className="rounded px-1 text-[0.87rem] whitespace-nowrap text-[#c9d4d3] hover:text-white"
              >
                Sign out
              </button>
            </form>
          </div>
        </div>
      </header>
      <main id="main" className="px-5 pt-3 pb-8">
        {children}
      </main>
    </>
  )
}
