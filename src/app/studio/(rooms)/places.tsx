"use client"

import { usePathname } from "next/navigation"
import { Link } from "@/ui/link"
import { places } from "./place-list"

export function Places() {
  const at = usePathname()
  return (
    <nav
      aria-label="Places"
      className="order-last flex w-full flex-wrap gap-0.5 min-[76rem]:order-none min-[76rem]:w-auto min-[76rem]:flex-nowrap"
    >
      {places.map((p) => {
        const here = p.href === "/studio" ? at === "/studio" : at.startsWith(p.href)
        return (
          <Link
            key={p.href}
            href={p.href}
            aria-current={here ? "page" : undefined}
            className={`block rounded-md px-2 py-1 text-[0.95rem] xl:px-2.5 ${here ? "bg-[#2c434b] text-white" : "text-[#d5dcd9] hover:text-white"}`}
          >
            {p.name}
          </Link>
        )
      })}
    </nav>
  )
}
