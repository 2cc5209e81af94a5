// What is written on the drawing, beside the geometry that river.test.ts holds to its laws.
import { describe, expect, it } from "vitest"
import { sampleFunnel } from "../../../tests/support/sample"
import { layoutRiver } from "./layout"
import { type RiverFlow, riverOf } from "./river"

const funnel = sampleFunnel()
const flow = (step: number, from: number, n: number, via: RiverFlow["via"], source = "letter"): RiverFlow => ({
  step,
  from,
  outcome: from ? (["", "joined", "confirmed", "started"][from] ?? "") : "",
  via,
  source,
  n,
  money: 0,
})

const river = riverOf(
  funnel,
  [
    flow(1, 0, 1200, "source"),
    flow(1, 0, 300, "source", "search.example"),
    flow(2, 1, 600, "page"),
    flow(3, 2, 500, "page"),
    flow(4, 3, 3, "page"),
    flow(4, 3, 2, "mail"),
  ],
  new Map([
    [1, { n: 100, money: 0 }],
    [3, { n: 95, money: 0 }],
  ]),
  new Map([[9, 500]]),
)
const drawing = layoutRiver(river, 1240)
const texts = (kind: string) => drawing.labels.filter((l) => l.kind === kind).map((l) => l.text)

describe("the words on a drawing", () => {
  it("give every share, everyone who left, everyone who is still there", () => {
    expect(texts("share").map((t) => t.replace(" went on", ""))).toEqual(["40 %", "83 %", "1 %"])
    expect(texts("left")).toEqual(["800 left", "100 left", "400 left"])
    expect(texts("here")).toEqual(["100 still here", "95 still here"])
    expect(texts("source")).toEqual(["letter\n1,200", "search.example\n300"])
  })
  it("stand at the cards: names, numbers, and how many mails", () => {
    expect(drawing.cards.map((c) => [c.title, c.n, c.mails])).toEqual([
      ["First", 1500, 0],
      ["Check your inbox", 600, 0],
      ["Welcome", 500, 0],
      ["Learning area", 5, 0],
      ["Three mornings", 500, 3],
    ])
  })
  it("say a share under one in a hundred with its tenth", () => {
    const few = riverOf(funnel, [flow(1, 0, 1000, "source"), flow(2, 1, 4, "page")], new Map(), new Map())
    expect(layoutRiver(few, 1240).labels.find((l) => l.kind === "share")!.text).toMatch(/^0\.4 %/)
  })
})

describe("the water", () => {
  it("keeps a hairline where there are few, and none where there is nobody", () => {
    const end = drawing.bodies.find((b) => b.node === "s4")!
    expect(end.depth).toBeLessThan(1)
    expect(end.shown).toBe(2)
    expect(layoutRiver(riverOf(funnel, [], new Map(), new Map()), 1240).bodies.every((b) => b.shown === 0)).toBe(true)
  })
  it("brings those who came back by mail through the pool", () => {
    const mail = drawing.ribbons.filter((r) => r.kind === "mail")
    expect(mail.map((r) => [r.from, r.to, r.n])).toEqual([
      ["s3", "p9", 2],
      ["p9", "s4", 2],
    ])
    expect(drawing.threads).toMatchObject([{ from: "s2", to: "p9" }])
  })
  it("is as wide as the screen, and wider only where the steps need it", () => {
    expect(drawing.width).toBe(1240)
    expect(layoutRiver(river, 500).width).toBeGreaterThan(500)
  })
})
