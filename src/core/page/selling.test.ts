// What sells, as HTML: amounts are seen before they are read, each sentence stands once, and nothing typed is markup.
import { describe, expect, it } from "vitest"
import { type CheckoutView, checkoutHtml, decisionHtml, type OfferCard, priceHtml, productData } from "./selling"

const evil = `"><script>alert(1)</script>`
const card: OfferCard = {
  id: 1,
  name: evil,
  promise: evil,
  picture: { url: "/media/a.webp", width: 800, height: 450 },
  gives: [evil, "The Cold Shelf: 6 lessons"],
  courses: [],
  ways: [
    {
      id: 1,
      name: "All at once",
      says: "You pay €290.00 today.",
      amount: "€290",
      accept: "",
      today: "€290.00",
      payments: 1,
      total: "€290.00",
    },
    {
      id: 2,
      name: evil,
      says: "You pay €79.00 today, then …",
      amount: "4 × €79",
      accept: "",
      today: "€79.00",
      payments: 4,
      total: "€316.00",
    },
  ],
  note: "12 left.",
  left: null,
  once: null,
  ends: null,
  refundDays: null,
  open: true,
}
const view: CheckoutView = {
  action: "/a/checkout",
  once: "x",
  release: 1,
  cards: null,
  test: false,
  error: null,
  email: "",
  askName: true,
  name: evil,
  askPostal: false,
  postal: "",
  askCode: true,
  code: "",
  consent: "",
  agreed: false,
  bought: card,
  terms: card.ways,
  chosen: 1,
  bumps: [{ id: 3, says: evil, name: "Chart", price: "You pay €9.00 today.", picture: null, picked: false }],
  sum: {
    ways: {},
    off: null,
    lines: [],
    sentence: "You pay €290.00 today.",
    today: "€290",
    problem: null,
    again: false,
    seen: "s",
    button: "Pay €290.00",
    needsCard: false,
    statement: "",
  },
  has: null,
}
const times = (html: string, part: string) => html.split(part).length - 1

describe("a price", () => {
  it("has the amount of each way before its sentence, and the sentence once", () => {
    const { text } = priceHtml(card)
    expect(text.indexOf("€290<")).toBeLessThan(text.indexOf("You pay €290.00 today."))
    expect(times(text, "4 × €79")).toBe(1)
    expect(times(text, "You pay €79.00 today, then …")).toBe(1)
    expect(text).not.toContain("<script>")
  })

  it("keeps the place of its picture, and has none where there is none", () => {
    expect(priceHtml(card).text).toContain('width="800" height="450"')
    expect(priceHtml({ ...card, picture: null }).text).not.toContain("<img")
  })
})

describe("a checkout", () => {
  it("has what is bought and the sum beside the fields, in one form, and today's amount largest", () => {
    const { text } = checkoutHtml(view)
    expect(times(text, "<form")).toBe(1)
    expect(text.indexOf('class="fields"')).toBeLessThan(text.indexOf('class="bought"'))
    expect(text.indexOf('class="bought"')).toBeLessThan(text.indexOf('id="sum"'))
    expect(text).toContain('<p class="today"><span>Today</span><b class="amount">€290</b></p>')
    expect(text).not.toContain("<script>")
  })

  it("shows the amounts and sentences that a coupon makes, in place of the others", () => {
    const ways = { "amount-terms1": "€232", terms1: "You pay €232.00 today." }
    const { text } = checkoutHtml({ ...view, sum: { ...view.sum, ways, sentence: "", today: "€232" } })
    expect(text).toContain('data-way="amount-terms1">€232<')
    expect(text).not.toContain("€290<")
    expect(text).toContain('data-way="terms1">You pay €232.00 today.<')
  })

  it("asks for no choice where there is one way to pay", () => {
    const { text } = checkoutHtml({ ...view, terms: card.ways.slice(0, 1) })
    expect(text).toContain('<input type="hidden" name="terms" value="1">')
    expect(text).not.toContain('type="radio"')
  })
})

it("a further offer says its amount, its sentence, one yes and one no", () => {
  const { text } = decisionHtml({
    action: "/x",
    order: "o",
    sentence: "You pay €45.00 today.",
    amount: "€45",
    seen: "s",
    accept: evil,
    decline: "No",
    error: null,
  })
  expect(text.indexOf("€45<")).toBeLessThan(text.indexOf("You pay €45.00 today."))
  expect([times(text, 'value="accepted"'), times(text, 'value="declined"')]).toEqual([1, 1])
  expect(text).not.toContain("<script>")
})

// schema.org/Product with an Offer: price in units with a point, priceCurrency as ISO 4217, availability as an address.
it("what is paid at once is a product for programs that read, with its price; instalments alone are none", () => {
  const read = (c: OfferCard) =>
    /<script type="application\/ld\+json">(.*?)<\/script>/.exec(String(productData(c)))?.[1] ?? "null"
  const once = { price: "290.00", currency: "EUR" }
  expect(JSON.parse(read({ ...card, name: "</script>", once }))).toMatchObject({
    "@type": "Product",
    name: "</script>",
    offers: { price: "290.00", priceCurrency: "EUR", availability: "https://schema.org/InStock" },
  })
  expect(read({ ...card, once, open: false })).toContain("SoldOut")
  expect(read({ ...card, once: null })).toBe("null")
})
