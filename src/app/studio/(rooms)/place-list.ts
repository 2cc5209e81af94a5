/** The places of the studio that are there. */
export const places = [
  { name: "Today", href: "/studio" },
  { name: "Funnels", href: "/studio/funnels" },
  { name: "Numbers", href: "/studio/numbers" },
  { name: "Courses", href: "/studio/courses" },
  { name: "Offers", href: "/studio/offers" },
  { name: "People", href: "/studio/people" },
  { name: "Mail", href: "/studio/mail" },
  { name: "Calendar", href: "/studio/calendar" },
  { name: "Affiliates", href: "/studio/affiliates" },
  { name: "Ledger", href: "/studio/ledger" },
  { name: "Settings", href: "/studio/settings" },
] as const
