import { simpleParser } from "mailparser"
import MailComposer from "nodemailer/lib/mail-composer"
import { describe, expect, it } from "vitest"
import { contrast } from "../look/colour"
import { lookNames } from "../look/list"
import { plainly, wear } from "../look/look"
import { linksOf, picturesOf, refsOfBody, withPictures } from "./body"
import { fillPlain, fillRich, plainChip, richChip } from "./chip"
import { compose, plainOf } from "./compose"
import { mostTries, pauseAfter, verdict } from "./delivery"
import { dressOf } from "./sheet"

const foot = {
  school: "Juniper & Crock",
  postalAddress: "4 Mill Bank",
  look: wear(plainly("kitchen-table")),
  leave: { says: "Stop these e-mails", url: "https://s.example/mails/1.x" },
}
const values = { "first-name": "Ines", course: "The First Crock", teacher: "Maren", school: "Juniper Crock" }

describe("chips", () => {
  it("reads as what will stand there", () => {
    expect(plainChip("first-name", "friend")).toBe("‹first name, else friend›")
    expect(fillPlain("Hello ‹first name, else friend›!", values)).toBe("Hello Ines!")
    expect(fillPlain("Hello ‹first name, else friend›!", { ...values, "first-name": "" })).toBe("Hello friend!")
    expect(fillRich(`<p>${richChip("first-name", "you & all")}</p>`, { ...values, "first-name": "" })).toBe(
      "<p>you &amp; all</p>",
    )
  })
  it("is filled in plain text, too, wherever the lines break", () => {
    for (let n = 40; n < 90; n++) {
      const body = `<p>${"x".repeat(n)} ${richChip("first-name", "my dear reader")} y</p>`
      const { text } = compose({ subject: "s", body, button: null, foot }, values)
      expect(text).toContain("Ines")
      expect(text).not.toContain("‹")
    }
  })
  it("leaves what is no chip, and escapes what people typed", () => {
    expect(fillPlain("a ‹quote› b", values)).toBe("a ‹quote› b")
    // By the name of a field; of one that is gone, what was to stand otherwise.
    expect(fillPlain("‹Jars at home, else some› jars", { ...values, "Jars at home": "12" })).toBe("12 jars")
    expect(fillPlain("‹Jars at home, else some› jars", values)).toBe("some jars")
    expect(fillRich(richChip("field-3", "some", "Jars"), { "field-3": "<12>" })).toBe("&lt;12&gt;")
    expect(fillRich(richChip("first-name", "x"), { ...values, "first-name": "<img src=x onerror=alert(1)>" })).toBe(
      "&lt;img src=x onerror=alert(1)&gt;",
    )
    expect(fillPlain("‹first name›", { ...values, "first-name": "a\r\nBcc: b" })).toBe("a Bcc: b")
  })
})

describe("compose", () => {
  const letter = {
    subject: "1: ‹course›",
    body: '<p>Hello <a href="https://x.example/?a=1&amp;b=2">there</a></p>',
    button: { says: "Open", url: "https://s.example/l" },
    foot,
  }

  it("hands every link to be tracked, with its number", () => {
    const seen: [string, number][] = []
    const mail = compose(letter, values, (url, n) => {
      seen.push([url, n])
      return `https://s.example/go/${n}`
    })
    expect(seen).toEqual([
      ["https://x.example/?a=1&b=2", 1],
      ["https://s.example/l", 0],
    ])
    expect(mail.html).not.toContain("x.example")
    expect(linksOf(letter.body)).toEqual(["https://x.example/?a=1&b=2"])
    expect(mail.subject).toBe("1: The First Crock")
  })

  it("says the same in plain text, with the way out", () => {
    const { text } = compose(letter, values)
    expect(text).toContain("Hello there")
    expect(text).toContain("https://s.example/mails/1.x")
    expect(text).toContain("Juniper & Crock")
    expect(text).not.toContain("<")
  })

  // RFC 5322 by an independent MIME parser (mailparser), in several scripts; the message built as the worker builds it.
  it.each([
    ["Ines", "Krautwoche"],
    ["さくら", "第一の壺"],
    ["نور", "الجرة الأولى"],
    ["Łucja", "Pierwszy garnek, część 1"],
    ['A "quoted", name', "“Curly”, — and a 🥬"],
    ["Мила", "x".repeat(190)],
  ])("a parser reads %s and %s back", async (name, subject) => {
    const composed = compose({ ...letter, subject }, { ...values, "first-name": name })
    const raw = await new MailComposer({
      ...composed,
      from: { name: "Maren", address: "maren@s.example" },
      to: { name, address: "to@s.example" },
      messageId: "<1.a@s.example>",
      headers: {
        "List-Unsubscribe": "<https://s.example/mails/1.x>",
        "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
      },
    })
      .compile()
      .build()
    const read = await simpleParser(raw)
    expect(read.subject).toBe(subject)
    expect([read.to].flat()[0]?.value[0]).toEqual({ name, address: "to@s.example" })
    expect(read.text).toContain("Hello there")
    expect(read.html).toContain("<body")
    for (const line of raw.toString("latin1").split("\r\n")) expect(line.length).toBeLessThanOrEqual(998) // RFC 5322, 2.1.1
    expect(raw.toString("latin1").split("\r\n\r\n")[0]).not.toMatch(/[^\x00-\x7F]/)
  })
})

describe("a letter in its dress", () => {
  const letter = {
    subject: "s",
    body: `<h2>Salt</h2><p>Hello <a href="https://x.example/">there</a></p><img data-media="4" alt="A &quot;jar&quot;"><img data-media="5" alt="">`,
    button: { says: "Open", url: "https://s.example/l" },
    foot,
  }
  const files = new Map([[4, { url: "https://s.example/media/j.png", width: 1120, height: 700 }]])

  it("has its styles on each element, for programs that read no style sheet", () => {
    const { html } = compose({ ...letter, body: withPictures(letter.body, files) }, values)
    for (const tag of ["body", "h2", "p", "a", "img class", "hr"])
      for (const found of html.match(new RegExp(`<${tag}\\b[^>]*>`, "g"))!) expect(found).toContain('style="')
    // What stays in the head are colours for the dark alone.
    expect(html.match(/<style[^>]*>(.*?)<\/style>/s)![1]).toMatch(/^@media \(prefers-color-scheme:dark\)/)
    expect(html).toContain('width="560" height="350" alt="A &quot;jar&quot;"')
    // One that is no longer there is left out.
    expect(html.match(/<img/g)).toHaveLength(1)
    expect(picturesOf(letter.body)).toEqual([
      { media: 4, alt: 'A "jar"' },
      { media: 5, alt: "" },
    ])
  })

  // WCAG 2.2, 1.4.3: 4.5 to 1.
  it.each(lookNames)("can be read by day and in the dark in the look %s", (kind) => {
    const look = wear(plainly(kind))
    const { day, dark } = dressOf(look)
    for (const d of [day, dark]) {
      for (const text of [d.ink, d.soft, d.accent]) expect(contrast(text, d.ground)).toBeGreaterThanOrEqual(4.5)
      expect(contrast(d.onAction, d.action)).toBeGreaterThanOrEqual(4.5)
    }
  })

  it("says in plain text what its pictures show", () =>
    expect(compose({ ...letter, body: withPictures(letter.body, files) }, values).text).toContain('[A "jar"]'))

  it("has a plain text that can be written by hand, with its links where they are, and its foot", () => {
    const made = plainOf({ ...letter, body: `<p>Hello ${richChip("first-name", "friend")},</p>${letter.body}` })
    expect(made.split(/\n+/)).toEqual([
      "Hello ‹first name, else friend›,",
      "Salt",
      "Hello there ‹link 1›",
      '[A "jar"]',
      "Open ‹button›",
    ])
    // What a chip of the text is called there means it here, too, whatever it is of.
    const price = `<p>${richChip("price-7", "see there", "A Year, and more: price")}</p>`
    const byHand = plainOf({ body: price, button: null })
    expect(byHand).toBe("‹A Year and more: price, else see there›")
    expect(compose({ ...letter, body: price, plain: byHand }, { ...values, "price-7": "€ 5" }).text).toMatch(/^€ 5\n/)
    const plain = "Dear ‹first name, else reader›,\n\nread ‹link 1› or ‹button›. ‹link 9› is none."
    const { text, html } = compose({ ...letter, plain }, values, (_, n) => `https://s.example/go/${n}`)
    expect(text).toBe(
      "Dear Ines,\n\nread https://s.example/go/1 or https://s.example/go/0. https://s.example/go/9 is none.\n\nJuniper & Crock\n4 Mill Bank\nStop these e-mails https://s.example/mails/1.x",
    )
    expect(html).toContain("Hello")
  })

  it("refers to its pictures, and to whom and what it speaks of", () =>
    expect(
      refsOfBody(
        `${letter.body}<p>${richChip("price-7", "x")}${richChip("field-3", "y")}${richChip("school", "")}</p>`,
      ),
    ).toEqual([
      { to: "media", id: 4, use: "shows it" },
      { to: "media", id: 5, use: "shows it" },
      { to: "offer", id: 7, use: "speaks of it" },
      { to: "field", id: 3, use: "speaks of it" },
    ]))
})

describe("delivery", () => {
  // RFC 5321, 4.2.1: 4yz transient, 5yz permanent; authentication trouble (RFC 4954) is ours, not the receiver's.
  it.each([
    [undefined, "again"],
    [421, "again"],
    [450, "again"],
    [452, "again"],
    [550, "rejected"],
    [554, "rejected"],
    [535, "again"],
    [530, "again"],
  ] as const)("%s means %s", (reply, means) => {
    expect(verdict(reply)).toBe(means)
  })
  it("waits longer each time, and gives up within the four to five days of RFC 5321, 4.5.4.1", () => {
    const pauses = Array.from({ length: mostTries - 1 }, (_, i) => pauseAfter(i + 1))
    expect(pauses.slice(0, 3)).toEqual([60_000, 120_000, 240_000])
    expect([...pauses].sort((a, b) => a - b)).toEqual(pauses)
    const days = pauses.reduce((a, b) => a + b) / 86_400_000
    expect(days).toBeGreaterThan(1)
    expect(days).toBeLessThan(5)
  })
})
