// What the card processor stand-in knows: cards, payments, refunds, and what it has answered under which key. Kept in memory
// and, line by line, in a file of its own, so that it remembers after a restart as an outside service would.
import { appendFileSync, existsSync, mkdirSync, readFileSync } from "node:fs"
import { join } from "node:path"
import { type TestCard, testCards } from "@/core/offer/card"

export type Card = {
  readonly id: string
  readonly behaves: TestCard
  readonly last4: string
  /** MM/YY. */
  readonly expires: string
  /** Of number, expiry and code: the same card gives the same. */
  readonly fingerprint?: string
}

export type Payment = {
  readonly id: string
  readonly key: string
  readonly amount: number
  readonly currency: string
  readonly statement: string
  readonly reference: string
  readonly returnTo: string
  readonly card: Card
  readonly state: "succeeded" | "refused" | "needs-confirmation" | "cancelled"
  readonly reason: "refused" | "insufficient" | "expired" | "not-confirmed" | null
  readonly refunded: number
  readonly at: string
  /** What is kept of it. */
  readonly fee?: number
}

/** A buyer's bank takes money back. */
export type Dispute = {
  readonly id: string
  readonly payment: string
  readonly amount: number
  readonly currency: string
}

export type Refund = { readonly id: string; readonly key: string; readonly payment: string; readonly amount: number }

export type Behaviour = {
  readonly answers: "at once" | "slowly" | "with an error" | "with an error after charging" | "not at all"
  readonly slowMs: number
  readonly hooks: "at once" | "late" | "twice" | "out of order" | "never"
  readonly lateMs: number
  /** What it keeps of each payment. */
  readonly keeps: "nothing" | "1.5 % and 25"
}

export const wellBehaved: Behaviour = {
  answers: "at once",
  slowMs: 30_000,
  hooks: "at once",
  lateMs: 10_000,
  keeps: "nothing",
}

type Kept =
  | { readonly kind: "token"; readonly value: Card }
  | { readonly kind: "card"; readonly value: Card }
  | { readonly kind: "payment"; readonly value: Payment }
  | { readonly kind: "refund"; readonly value: Refund }
  | { readonly kind: "answer"; readonly value: { key: string; asked: string; status: number; body: unknown } }
  | { readonly kind: "void"; readonly value: { key: string } }

export class Store {
  readonly tokens = new Map<string, Card>()
  readonly cards = new Map<string, Card>()
  readonly payments = new Map<string, Payment>()
  readonly refunds = new Map<string, Refund>()
  readonly answers = new Map<string, { asked: string; status: number; body: unknown }>()
  /** Keys under which nothing may be charged any more. */
  readonly voided = new Set<string>()
  behaviour: Behaviour = wellBehaved
  private readonly file: string

  constructor(folder: string) {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    this.file = join(folder, "processor.jsonl")
    if (!existsSync(this.file)) return
    for (const line of readFileSync(this.file, "utf8").split("\n")) {
      try {
        if (line) this.take(JSON.parse(line) as Kept)
      } catch {
        // the last line of a process that was killed while writing
      }
    }
  }

  keep(...kept: Kept[]): void {
    for (const k of kept) this.take(k)
    appendFileSync(this.file, kept.map((k) => `${JSON.stringify(k)}\n`).join(""))
  }

  private take(k: Kept): void {
    if (k.kind === "token") this.tokens.set(k.value.id, k.value)
    else if (k.kind === "card") this.cards.set(k.value.id, k.value)
    else if (k.kind === "payment") this.payments.set(k.value.id, k.value)
    else if (k.kind === "refund") this.refunds.set(k.value.id, k.value)
    else if (k.kind === "answer") this.answers.set(k.value.key, k.value)
    else if (k.kind === "void") this.voided.add(k.value.key)
  }

  paymentByKey(key: string): Payment | undefined {
    const answer = this.answers.get(`pay:${key}`)
    const id = (answer?.body as { id?: string } | undefined)?.id
    return id ? this.payments.get(id) : undefined
  }
}

export function behaviourOf(number: string): TestCard | undefined {
  return (Object.keys(testCards) as TestCard[]).find((k) => testCards[k].number === number)
}
