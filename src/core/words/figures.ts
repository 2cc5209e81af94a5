// Every number that stands on more than one screen: its one name, and the sentence that says what is counted. A screen takes both
// from here and names its period.

export const figures = {
  visited: {
    name: "Visited",
    says: "everybody who came into a funnel, once in each, by the day they first came",
  },
  signedUp: { name: "Signed up", says: "whoever sent a form, confirmed or not" },
  confirmed: { name: "Confirmed", says: "whoever pressed the link in their mailbox and was let in" },
  newPeople: { name: "New people", says: "people the school didn’t know before, however they came" },
  bought: { name: "Bought", says: "of those who visited, whoever paid at a checkout, then or later" },
  joined: {
    name: "Joined",
    says: "of those who visited, whoever is known by now: they confirmed their address, or bought",
  },
  income: { name: "Income", says: "what those who visited have paid by now, less tax and refunds" },
  kept: { name: "Kept", says: "income less the processor’s fees and commissions" },
  orders: {
    name: "Orders",
    says: "what was paid at a checkout; what was added to an order afterwards is of that order, and a refund changes nothing",
  },
  sold: { name: "Sold", says: "how many times an offer was paid for, less those refunded in full" },
  registered: { name: "Registered", says: "whoever had a seat at a webinar" },
  came: { name: "Came", says: "whoever was in the room, however short" },
  stayed: { name: "Stayed", says: "whoever was there for as long as the webinar calls attended" },
} as const

export type Figure = keyof typeof figures

/** What some figures count, as one line below them: "Visited: …. New people: …." */
export const countedAs = (of: readonly Figure[]): string =>
  of.map((f) => `${figures[f].name}: ${figures[f].says}.`).join(" ")
