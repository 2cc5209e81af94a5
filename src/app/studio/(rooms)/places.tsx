"use client"

import { usePathname } from "next/navigation"
import { DropdownMenu } from "radix-ui"
import { Link } from "@/ui/link"
import { places } from "./place-list"

/** The places of the studio: as words in the bar, on narrow screens behind one button that says where one is. */
export function Places() {
  const at = usePathname()
  const isHere = (href: string) => (href === "/studio" ? at === "/studio" : at.startsWith(href))
  return (
    <>
      <nav
        aria-label="Places"
        className="order-last hidden w-full flex-wrap gap-0.5 lg:flex min-[79rem]:order-none min-[79rem]:w-auto min-[79rem]:flex-nowrap"
      >
        {places.map((p) => (
          <Link
            key={p.href}
            href={p.href}
            aria-current={isHere(p.href) ? "page" : undefined}
            className={`block rounded-md px-2 py-1 text-body min-[84rem]:px-2.5 ${isHere(p.href) ? "bg-[#2c434b] text-white" : "text-[#d5dcd9] hover:text-white"}`}
          >
            {p.name}
          </Link>
        ))}
      </nav>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="min-h-9 rounded-md border border-[#3d565f] px-2.5 text-body text-white lg:hidden">
          <span className="sr-only">Places, now </span>
          {places.findLast((p) => isHere(p.href))?.name ?? "Places"} <span aria-hidden>▾</span>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="start"
            sideOffset={4}
            className="z-50 min-w-44 rounded-md border border-line bg-card p-1 text-ink shadow-lg"
          >
            {places.map((p) => (
              <DropdownMenu.Item key={p.href} asChild>
                <Link
                  href={p.href}
                  aria-current={isHere(p.href) ? "page" : undefined}
                  className={`block rounded px-3 py-2 outline-none data-[highlighted]:bg-paper ${isHere(p.href) ? "font-semibold" : ""}`}
                >
                  {p.name}
                </Link>
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </>
  )
}
