"use client"

import { usePathname } from "next/navigation"
import { Link } from "@/ui/link"
import { places } from "./place-list"

export function Places() {
  const at = usePathname()
  return (
    <nav aria-label="Places" className="flex min-w-0 gap-0.5 overflow-x-auto">
      {places.map((p) => {
        const here = p.href === "/studio" ? at === "/studio" : at.startsWith(p.href)
        return (
          <Link
            key={p.href}
            href={p.href}
            aria-current={here ? "page" : undefined}
            className={`rounded-md px-2.5 py-1 text-[0.95rem] ${here ? "bg-[#2c434b] text-white" : "text-[#d5dcd9] hover:text-white"}`}
          >
            {p.name}
          </Link>
        )
      })}
    </nav>
  )
}
