// A school that sells, for server tests: a course, three offers, a published funnel, and the card processor stand-in beside it.
import { mkdtempSync, rmSync } from "node:fs"
import { tmpdir } from "node:os"
import { join } from "node:path"
import { type TestCard, testCards } from "@/core/offer/card"
import type { Terms } from "@/core/offer/terms"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { ask } from "@/server/ledger/charge"
import { type OrderRow, orderByCode } from "@/server/ledger/order"
import { type CheckoutForm, checkoutIn, choiceOf, placeOrder } from "@/server/ledger/place"
import { type OfferInput, saveOffer } from "@/server/offer/offer"
import { quote, shelfOf } from "@/server/offer/quote"
import { makeOwner } from "@/server/person/account"
import { httpCards } from "@/server/port/cards"
import { releaseById } from "@/server/releases"
import { openProcessor, type Processor } from "@/standins/processor/server"
import { someVisitor, type TestSchool, testSchool } from "./school"

export type Shop = {
  readonly t: TestSchool
  readonly processor: Processor
  readonly funnel: number
  readonly release: number
  readonly course: number
  readonly extra: number
  readonly offers: { readonly main: number; readonly further: number; readonly second: number }
  readonly step: Readonly<Record<"sales" | "checkout" | "further" | "second" | "welcome" | "learning", number>>
  end(): Promise<void>
}

export const hookSecret = `whsec_${Buffer.from("a secret of the tests, long enough").toString("base64")}`

export const offer = (publicName: string, terms: Terms[], more: Partial<OfferInput> = {}): OfferInput => ({
  id: null,
  publicName,
  internalName: "",
  promise: `What ${publicName} is for`,
  pictureId: null,
  currency: "EUR",
  gifts: [],
  terms: terms.map((t) => ({ id: null, name: "", terms: t })),
  pieces: null,
  perPerson: null,
  from: null,
  until: null,
  hidden: false,
  afterFailure: "ends",
  ...more,
})

export async function saved(t: TestSchool, input: OfferInput): Promise<number> {
  const done = await saveOffer(t.s, input)
  if ("refused" in done) throw new Error(done.refused)
  return done.id
}

export async function course(t: TestSchool, slug: string, title: string): Promise<number> {
  const at = new Date(t.at())
  const { id } = await t.s.db.write(
    "INSERT INTO course (slug, title, promise, teacher, state, made_at, changed_at) VALUES (?, ?, 'A promise', 'Maren', 'live', ?, ?)",
    [slug, title, at, at],
  )
  await t.s.db.write(
    "INSERT INTO lesson (course_id, position, title, body, minutes, state) VALUES (?, 1, 'Lesson 1', '<p>Text</p>', 5, 'live')",
    [id],
  )
  return id
}

export async function openShop(
  name: string,
  o: {
    main?: Partial<OfferInput>
    terms?: Terms[]
    further?: Terms[]
    second?: Terms[]
    leaseMs?: number
    start?: string
  } = {},
): Promise<Shop> {
  const plain = await testSchool(name, { leaseMs: o.leaseMs, start: o.start })
  const folder = mkdtempSync(join(tmpdir(), "heron-shop-"))
  const processor = await openProcessor({ folder, port: 0, key: "k", hookTo: "", hookSecret })
  const cards = httpCards({ url: processor.origin, key: "k", hookSecret })
  const t: TestSchool = { ...plain, s: { ...plain.s, cards } }
  await makeOwner(t.s, {
    school: "Juniper Crock",
    name: "Maren",
    email: "maren@crock.example",
    password: "brine before breakfast",
  })
  await t.s.db.write(
    "UPDATE school SET zone = 'Europe/Oslo', statement = 'JUNIPER CROCK', sender_name = 'Maren', sender_email = 'maren@crock.example', tax_rate = 2500",
  )
  const main = await course(t, "year", "A Year")
  const extra = await course(t, "koji", "Koji")
  const offers = {
    main: await saved(
      t,
      offer("A Year", o.terms ?? [{ kind: "full", amount: 29_000 }], {
        gifts: [{ kind: "course", course: main }],
        ...o.main,
      }),
    ),
    further: await saved(
      t,
      offer("Koji", o.further ?? [{ kind: "full", amount: 9_000 }], { gifts: [{ kind: "course", course: extra }] }),
    ),
    second: await saved(
      t,
      offer("Clinic", o.second ?? [{ kind: "full", amount: 3_900 }], { gifts: [{ kind: "post", title: "A book" }] }),
    ),
  }
  const made = await newFunnel(t.s, {
    goal: "sell-course",
    offer: offers.main,
    further: offers.further,
    second: offers.second,
  })
  if ("refused" in made) throw new Error(made.refused)
  const published = await publishFunnel(t.s, made.funnel, true)
  if ("refused" in published) throw new Error(published.refused)
  const steps = await t.s.db.rows<{ id: number; path: string; kind: string }>(
    "SELECT id, path, kind FROM step WHERE funnel_id = ?",
    [made.funnel],
  )
  const at = (end: string) => steps.find((s) => s.path.endsWith(end))!.id
  return {
    t,
    processor,
    funnel: made.funnel,
    release: published.release,
    course: main,
    extra,
    offers,
    step: {
      sales: steps.find((s) => s.kind === "sales")!.id,
      checkout: at("/checkout"),
      further: at("/one-more-thing"),
      second: at("/or-this"),
      welcome: at("/welcome"),
      learning: steps.find((s) => s.kind === "learning")!.id,
    },
    async end() {
      await processor.close()
      await plain.end()
      rmSync(folder, { recursive: true, force: true })
    },
  }
}

export async function tokenOf(shop: Pick<Shop, "processor">, card: TestCard): Promise<string> {
  const answer = await fetch(`${shop.processor.origin}/tokens`, {
    method: "POST",
    body: JSON.stringify({ number: testCards[card].number, expires: "12/39", code: "123" }),
  })
  return ((await answer.json()) as { token: string }).token
}

let forms = 0

/** What a buyer's browser would send: what is read is read just before, unless said otherwise. */
export async function formOf(
  shop: Shop,
  card: TestCard | null,
  more: Partial<CheckoutForm> = {},
): Promise<CheckoutForm> {
  const { s } = shop.t
  const release = String(shop.release)
  const place = checkoutIn((await releaseById(s.db, Number(release)))!, "a-year/checkout")!
  const email = more.email ?? `buyer${++forms}@post.example`
  const choice = { terms: more.terms ?? null, bumps: more.bumps ?? [], code: more.code ?? "" }
  const q = await quote(s.db, await shelfOf(s.db), choiceOf(place, choice, email), await s.clock.now())
  return {
    once: `form-${String(++forms).padStart(20, "0")}`,
    release,
    email,
    name: "Ines",
    postal: "",
    zone: "Europe/Oslo",
    website: "",
    consent: false,
    card: card ? await tokenOf(shop, card) : "",
    seen: q?.seen ?? "",
    again: false,
    ...choice,
    ...more,
  }
}

export type Bought = { readonly order: OrderRow; readonly visitor: Buffer; readonly form: CheckoutForm }

export async function buy(
  shop: Shop,
  card: TestCard | null,
  more: Partial<CheckoutForm> = {},
  visitor = someVisitor(),
): Promise<Bought> {
  const form = await formOf(shop, card, more)
  const placed = await placeOrder(shop.t.s, form, {
    path: "a-year/checkout",
    ip: "192.0.2.1",
    visitor,
    source: "letter",
  })
  if (!("goTo" in placed)) throw new Error(JSON.stringify(placed))
  return { order: (await orderByCode(shop.t.s.db, placed.goTo.split("/").at(-1)!))!, visitor, form }
}

export async function reread(shop: Shop, order: OrderRow): Promise<OrderRow> {
  return (await orderByCode(shop.t.s.db, order.code))!
}

/** Asks the processor about an order's latest charge, as its page and the worker do. */
export async function askAbout(shop: Shop, order: OrderRow): Promise<OrderRow> {
  const { db } = shop.t.s
  const charge = await db.row<{ id: number }>("SELECT id FROM charge WHERE order_id = ? ORDER BY id DESC LIMIT 1", [
    order.id,
  ])
  await ask(shop.t.s, charge!.id)
  return reread(shop, order)
}
