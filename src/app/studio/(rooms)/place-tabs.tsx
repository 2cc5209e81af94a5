import { Tabs } from "@/ui/tabs"

/** The views of each place: its label, and what stands in the row. */
const places = {
  funnels: [
    "Funnels",
    { name: "Funnels", href: "/studio/funnels", only: true },
    { name: "Tracked links", href: "/studio/funnels/links" },
    { name: "Kept sections", href: "/studio/funnels/sections" },
  ],
  numbers: [
    "Numbers",
    { name: "What it brought", href: "/studio/numbers", only: true },
    { name: "What to change first", href: "/studio/numbers/change" },
    { name: "Forecast", href: "/studio/numbers/forecast" },
    { name: "Forecast and actual", href: "/studio/numbers/days" },
    { name: "Groups", href: "/studio/numbers/groups" },
    { name: "Report", href: "/studio/numbers/report" },
    { name: "Costs", href: "/studio/numbers/costs" },
  ],
  courses: [
    "Courses",
    { name: "All courses", href: "/studio/courses" },
    { name: "Notices", href: "/studio/courses/notices" },
  ],
  offers: [
    "Within offers",
    { name: "Offers", href: "/studio/offers" },
    { name: "Coupons", href: "/studio/offers/coupons" },
  ],
  people: [
    "People",
    { name: "Everybody", href: "/studio/people" },
    { name: "Segments", href: "/studio/people/segments" },
    { name: "Tags", href: "/studio/people/tags" },
    { name: "Fields", href: "/studio/people/fields" },
    { name: "Import", href: "/studio/people/import" },
  ],
  mail: [
    "Mail",
    { name: "What works", href: "/studio/mail", only: true },
    { name: "Due and sent", href: "/studio/mail/due" },
    { name: "Sequences", href: "/studio/mail/sequences" },
    { name: "Broadcasts", href: "/studio/mail/broadcasts" },
    { name: "Delivery", href: "/studio/mail/delivery" },
    { name: "Quiet hours and limits", href: "/studio/mail/quiet-hours" },
  ],
  calendar: [
    "Calendar",
    { name: "Dates", href: "/studio/calendar" },
    { name: "Webinars", href: "/studio/calendar/webinars" },
  ],
  affiliates: [
    "Within affiliates",
    { name: "Affiliates", href: "/studio/affiliates" },
    { name: "Programmes", href: "/studio/affiliates/programmes" },
    { name: "Report", href: "/studio/affiliates/report" },
    { name: "Payouts", href: "/studio/affiliates/payouts" },
    { name: "Rules", href: "/studio/affiliates/rules" },
  ],
  ledger: [
    "Within the ledger",
    { name: "Orders", href: "/studio/ledger" },
    { name: "Plans", href: "/studio/ledger/plans" },
    { name: "Books", href: "/studio/ledger/books" },
  ],
  settings: [
    "Within the settings",
    { name: "School", href: "/studio/settings" },
    { name: "Look", href: "/studio/settings/look" },
    { name: "Teachers", href: "/studio/settings/teachers" },
    { name: "Legal pages", href: "/studio/settings/legal" },
    { name: "Mail", href: "/studio/settings/mail" },
    { name: "Cards and meetings", href: "/studio/settings/cards" },
    { name: "Automations", href: "/studio/settings/automations" },
    { name: "Media", href: "/studio/settings/media" },
    { name: "Account", href: "/studio/settings/account" },
  ],
} as const

/** The tabs of a place. */
export function PlaceTabs({ of, className }: { of: keyof typeof places; className?: string }) {
  const [label, ...tabs] = places[of]
  return (
    <div className={className}>
      <Tabs label={label} tabs={tabs} />
    </div>
  )
}
