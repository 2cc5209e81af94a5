"use client"

import { Command } from "cmdk"
import { useRouter } from "next/navigation"
import { useEffect, useState } from "react"
import { Dialog } from "@/ui/dialog"
import { places } from "./place-list"

export type Found = { readonly group: string; readonly name: string; readonly href: string }

/** Find or do: every place, funnel, page, course and action by name; a person by searching. */
export function FindOrDo({ found }: { found: readonly Found[] }) {
  const [open, setOpen] = useState(false)
  const [typed, setTyped] = useState("")
  const router = useRouter()
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault()
        setOpen((o) => !o)
      }
    }
    window.addEventListener("keydown", key)
    return () => window.removeEventListener("keydown", key)
  }, [])
  const entries: Found[] = [
    ...places.map((p) => ({ group: "Places", name: p.name, href: p.href })),
    { group: "Do", name: "New funnel", href: "/studio/funnels/new" },
    { group: "Do", name: "New course", href: "/studio/courses?new" },
    { group: "Do", name: "New offer", href: "/studio/offers?new" },
    { group: "Do", name: "New coupon", href: "/studio/offers/coupons" },
    { group: "Do", name: "New sequence", href: "/studio/mail/sequences" },
    { group: "Do", name: "New broadcast", href: "/studio/mail/broadcasts" },
    { group: "Do", name: "New segment", href: "/studio/people/segments" },
    { group: "Do", name: "New webinar", href: "/studio/calendar/webinars" },
    { group: "Do", name: "Import people", href: "/studio/people/import" },
    ...found,
  ]
  const go = (href: string) => {
    setOpen(false)
    setTyped("")
    router.push(href)
  }
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        aria-keyshortcuts="Control+K"
        className="flex items-center justify-between gap-3 whitespace-nowrap xl:w-44 rounded-md border border-[#3d565f] px-2.5 py-1 text-[0.9rem] text-[#c9d4d3] hover:border-[#8aa0a5]"
      >
        <span>
          Find<span className="sr-only xl:not-sr-only"> or do</span>
        </span>
        <kbd className="hidden font-sans text-[0.8rem] xl:inline">Ctrl K</kbd>
      </button>
      <Dialog open={open} onOpenChange={setOpen} title="Find or do">
        <Command label="Find or do">
          <Command.Input
            autoFocus
            value={typed}
            onValueChange={setTyped}
            placeholder="A place, a funnel, a page, a course, a person…"
            className="w-full rounded-md border border-line bg-card px-3 py-2"
          />
          <Command.List className="mt-2 max-h-80 overflow-auto">
            {["Places", "Do", "Funnels", "Pages", "Courses", "Offers", "Mail", "Segments", "Webinars"].map((group) => (
              <Command.Group
                key={group}
                heading={group}
                className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[0.8rem] [&_[cmdk-group-heading]]:text-soft"
              >
                {entries
                  .filter((e) => e.group === group)
                  .map((e) => (
                    <Command.Item
                      key={e.href + e.name}
                      value={`${e.name} ${e.href}`}
                      onSelect={() => go(e.href)}
                      className="rounded px-2 py-1.5 data-[selected=true]:bg-paper"
                    >
                      {e.name}
                    </Command.Item>
                  ))}
              </Command.Group>
            ))}
            {typed.trim() ? (
              <Command.Item
                forceMount
                value={`orders ${typed}`}
                onSelect={() => go(`/studio/ledger?search=${encodeURIComponent(typed.trim())}`)}
                className="rounded px-2 py-1.5 data-[selected=true]:bg-paper"
              >
                Look for “{typed.trim()}” among the orders
              </Command.Item>
            ) : null}
            {typed.trim() ? (
              <Command.Item
                forceMount
                value={`people ${typed}`}
                onSelect={() => go(`/studio/people?search=${encodeURIComponent(typed.trim())}`)}
                className="rounded px-2 py-1.5 data-[selected=true]:bg-paper"
              >
                Look for “{typed.trim()}” among the people
              </Command.Item>
            ) : null}
          </Command.List>
        </Command>
      </Dialog>
    </>
  )
}
