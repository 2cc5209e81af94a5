import { describe, expect, it } from "vitest"
import type { Block } from "./document"
import { newBlock } from "./edit"
import { firstScreen } from "./first"

const of = (...kinds: Block["kind"][]) => kinds.map((kind, i) => newBlock(kind, `b${i}`))
const ids = (blocks: readonly Block[]) => blocks.map((b) => b.id).join(" ")

describe("the first screen", () => {
  it("ends at the second headline, the second picture, or what has no place there", () => {
    for (const next of ["headline", "picture", "section", "price"] as const) {
      const first = firstScreen({ blocks: of("headline", "text", "picture", next, "text") }, "beside")!
      expect(ids(first.words), next).toBe("b0 b1")
      expect(first.show?.id, next).toBe("b2")
      expect(ids(first.rest), next).toBe("b3 b4")
    }
  })
  it("is none without a headline, or with nothing but one", () => {
    expect(firstScreen({ blocks: of("text", "button") }, "words")).toBeNull()
    expect(firstScreen({ blocks: of("headline", "checkout") }, "words")).toBeNull()
    expect(firstScreen({ blocks: [] }, "words")).toBeNull()
  })
  it.each([
    ["beside", ["headline", "text"], "words", null],
    ["behind", ["headline", "form"], "form", "b1"],
    ["form", ["headline", "picture"], "beside", "b1"],
    ["form", ["headline", "picture", "form"], "form", "b2"],
    ["beside", ["headline", "picture", "form"], "beside", "b1"],
    ["centred", ["headline", "text"], "centred", null],
    ["words", ["headline", "picture", "form"], "words", null],
  ] as const)("%s with %j is %s", (wanted, kinds, arrangement, show) => {
    const first = firstScreen({ blocks: of(...kinds) }, wanted)!
    expect([first.arrangement, first.show?.id ?? null]).toEqual([arrangement, show])
    expect(first.words.length + (show ? 1 : 0)).toBe(kinds.length)
  })
  it("is as the page has it before it is as the look has it", () =>
    expect(firstScreen({ blocks: of("headline", "picture"), first: "behind" }, "beside")!.arrangement).toBe("behind"))
})
