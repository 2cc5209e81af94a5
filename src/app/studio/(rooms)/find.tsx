"use client"

import { Command } from "cmdk"
import { useRouter } from "next/navigation"
import { useEffect, useState } from "react"
import { Dialog } from "@/ui/dialog"
import { type FindMatch, type Match, matches } from "./find-match"
import { places } from "./place-list"

const to = (group: string, name: string, href: string, ...also: string[]): FindMatch => ({ group, name, href, also })

/** What is always there, with the words that people look for it by. */
const always: readonly FindMatch[] = [
  ...places.map((p) => to("Places", p.name, p.href)),
  to("Do", "New funnel", "/studio/funnels/new", "landing page", "opt-in page", "sales page"),
  to("Do", "New course", "/studio/courses?new"),
  to("Do", "New offer", "/studio/offers?new", "product", "price"),
  to("Do", "New coupon", "/studio/offers/coupons", "discount", "promo code"),
  to("Do", "New sequence", "/studio/mail/sequences", "automation", "autoresponder", "drip"),
  to("Do", "New broadcast", "/studio/mail/broadcasts", "newsletter", "campaign"),
  to("Do", "New segment", "/studio/people/segments", "list", "audience"),
  to("Do", "New webinar", "/studio/calendar/webinars"),
  to("Do", "Import people", "/studio/people/import", "contacts", "CSV", "subscribers"),
  to("Settings", "School name and time zone", "/studio/settings", "timezone"),
  to("Settings", "Look of the pages", "/studio/settings/look", "theme", "brand", "colours", "logo", "fonts"),
  to("Settings", "Tax", "/studio/settings", "VAT", "sales tax", "currency"),
  to("Settings", "Card statement text", "/studio/settings", "statement descriptor", "billing name"),
  to(
    "Settings",
    "Sender of the e-mails",
    "/studio/settings",
    "from address",
    "from name",
    "reply-to",
    "postal address",
  ),
  to("Settings", "Mail server", "/studio/settings/mail", "SMTP", "test e-mail"),
  to("Settings", "Domain records", "/studio/mail/delivery", "DNS", "SPF", "DKIM", "DMARC", "deliverability", "bounces"),
  to("Settings", "Quiet hours and limits", "/studio/mail/quiet-hours", "frequency", "pause all e-mails"),
  to(
    "Settings",
    "Cards and meetings",
    "/studio/settings/cards",
    "payments",
    "card processor",
    "webhook",
    "webinar service",
  ),
  to("Settings", "Automations", "/studio/settings/automations", "effects", "rules", "triggers"),
  to("Settings", "Legal pages", "/studio/settings/legal", "imprint", "privacy", "terms", "legal"),
  to("Settings", "Media", "/studio/settings/media", "files", "pictures", "videos", "library", "uploads"),
  to("Settings", "Account and password", "/studio/settings/account", "sign-in", "log in", "change e-mail address"),
  to("Settings", "Fields", "/studio/people/fields", "custom fields", "properties"),
  to("Settings", "Tags", "/studio/people/tags", "labels"),
  to("Settings", "Affiliate settings", "/studio/affiliates/rules", "cookies", "consent", "commission", "attribution"),
  to("Settings", "Books", "/studio/ledger/books", "accounting", "revenue", "export"),
]

const groups = [
  "Places",
  "Do",
  "Settings",
  "Funnels",
  "Pages",
  "Courses",
  "Offers",
  "Mail",
  "Segments",
  "Webinars",
  "Affiliates",
]

/** Find or do: every place, setting, funnel, page, course and action by the words people use; a person by searching. */
export function FindOrDo({ found }: { found: readonly FindMatch[] }) {
  const [open, setOpen] = useState(false)
  const [typed, setTyped] = useState("")
  const router = useRouter()
  const turn = (is: boolean) => {
    setOpen(is)
    setTyped("")
  }
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "k") {
        e.preventDefault()
        setTyped("")
        setOpen((o) => !o)
      }
    }
    window.addEventListener("keydown", key)
    return () => window.removeEventListener("keydown", key)
  }, [])
  const go = (href: string) => {
    turn(false)
    router.push(href)
  }
  const words = typed.trim()
  const list = words ? matches([...always, ...found], words) : matches(always, "").filter((x) => x.group !== "Settings")
  return (
    <>
      <button
        type="button"
        onClick={() => turn(true)}
        aria-keyshortcuts="Control+K"
        className="flex items-center justify-between gap-3 whitespace-nowrap xl:w-44 rounded-md border border-[#3d565f] px-2.5 py-1 text-note text-[#c9d4d3] hover:border-[#8aa0a5]"
      >
        <span>
          Find<span className="sr-only xl:not-sr-only"> or do</span>
        </span>
        <kbd className="hidden font-sans text-fine xl:inline">Ctrl K</kbd>
      </button>
      <Dialog open={open} onOpenChange={turn} title="Find or do">
        <Command label="Find or do" shouldFilter={false}>
          <Command.Input
            autoFocus
            value={typed}
            onValueChange={setTyped}
            placeholder="A place, a setting, a funnel, a page, a person…"
            className="w-full rounded-md border border-line bg-card px-3 py-2"
          />
          <Command.List className="mt-2 max-h-80 overflow-auto">
            {groups.map((group) => {
              const here = list.filter((x) => x.group === group)
              return here.length ? (
                <Command.Group
                  key={group}
                  heading={group}
                  className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-fine [&_[cmdk-group-heading]]:text-soft"
                >
                  {here.map((x) => (
                    <Command.Item
                      key={x.href + x.name}
                      value={x.href + x.name}
                      onSelect={() => go(x.href)}
                      className="rounded px-2 py-1.5 data-[selected=true]:bg-paper"
                    >
                      <Marked of={x} />
                    </Command.Item>
                  ))}
                </Command.Group>
              ) : null
            })}
            {words
              ? (
                  [
                    ["people", `/studio/people?search=${encodeURIComponent(words)}`],
                    ["orders", `/studio/ledger?search=${encodeURIComponent(words)}`],
                  ] as const
                ).map(([where, href]) => (
                  <Command.Item
                    key={where}
                    value={href}
                    onSelect={() => go(href)}
                    className="rounded px-2 py-1.5 data-[selected=true]:bg-paper"
                  >
                    Look for “{words}” among the {where}
                  </Command.Item>
                ))
              : null}
          </Command.List>
        </Command>
      </Dialog>
    </>
  )
}

/** A name with what was typed marked in it, and the word by which it was found where the name doesn't have it. */
function Marked({ of }: { of: Match }) {
  return (
    <>
      {of.pieces.map((p, i) =>
        p.hit ? (
          <mark key={i} className="bg-transparent font-bold text-slate">
            {p.text}
          </mark>
        ) : (
          p.text
        ),
      )}
      {of.by.length ? <span className="text-soft"> · by “{of.by.join("”, “")}”</span> : null}
    </>
  )
}
