// An order's story as a machine: which states it has, and what may lead from one to the other. Paid is decided by the card
// processor's word, never by what a browser comes back with.

export const orderStates = {
  begun: "began to pay",
  open: "asking the card processor",
  confirming: "waiting for the buyer's bank",
  paid: "paid",
  refused: "card refused",
  lapsed: "given up",
  refunded: "refunded",
} as const

export type OrderState = keyof typeof orderStates

export type OrderEvent = "placed" | "needs-confirmation" | "succeeded" | "refused" | "lapsed" | "refunded"

const leads: Record<OrderState, Partial<Record<OrderEvent, OrderState>>> = {
  begun: { placed: "open", lapsed: "lapsed" },
  open: { "needs-confirmation": "confirming", succeeded: "paid", refused: "refused", lapsed: "lapsed" },
  confirming: { "needs-confirmation": "confirming", succeeded: "paid", refused: "refused", lapsed: "lapsed" },
  // Another card, or the processor's late word on the first.
  refused: { placed: "open", succeeded: "paid", refused: "refused", lapsed: "lapsed" },
  // Money that came after all is never kept without what it was for.
  lapsed: { succeeded: "paid", refused: "lapsed", lapsed: "lapsed" },
  paid: { succeeded: "paid", refunded: "refunded" },
  refunded: { succeeded: "refunded", refunded: "refunded" },
}

/** The state an event leads to, or null where it can't happen there (and changes nothing). */
export function afterEvent(state: OrderState, event: OrderEvent): OrderState | null {
  return leads[state][event] ?? null
}

/** Orders that hold a piece of what is limited, as SQL asks for them. */
export const holdsPiece = "state IN ('open', 'confirming', 'paid')"

/** A state in words; an order that was given back in part says so. */
export function orderStateWords(state: OrderState, refunded: number): string {
  return state === "paid" && refunded > 0 ? "paid, partly refunded" : orderStates[state]
}
