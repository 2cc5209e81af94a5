"use client"

import { usePathname } from "next/navigation"
import { Link } from "./link"

/** The views within a place, as words in a row; the one that is open is marked. */
export function Tabs({
  label,
  tabs,
}: {
  label: string
  /** `only`: its address alone, not what stands below it. */
  tabs: readonly { readonly name: string; readonly href: string; readonly only?: boolean }[]
}) {
  const at = usePathname()
  const here = [...tabs].reverse().find((r) => (r.only ? at === r.href : at.startsWith(r.href)))
  return (
    <nav aria-label={label} className="flex flex-wrap gap-x-4 border-b border-line">
      {tabs.map((r) => (
        <Link
          key={r.href}
          href={r.href}
          aria-current={r === here ? "page" : undefined}
          className={`-mb-px block border-b-2 pt-0.5 pb-1.5 whitespace-nowrap ${r === here ? "border-slate font-semibold text-ink" : "border-transparent text-soft hover:text-ink"}`}
        >
          {r.name}
        </Link>
      ))}
    </nav>
  )
}
