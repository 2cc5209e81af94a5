import { expect, it } from "vitest"
import { plainly, wear } from "@/core/look/look"
import { sampleFunnel } from "../../../tests/support/sample"
import { compilePage } from "../funnel/compile"
import { blocksFor } from "./block/list"
import { fillPage } from "./compile"
import { newBlock } from "./edit"

const funnel = sampleFunnel()
const step = funnel.steps[0]!
const context = {
  funnel,
  school: { name: "S", postalAddress: "", look: wear(plainly("conservatory")) },
  pictures: new Map(),
  videos: new Map(),
  release: 3,
}
const html = (blocks: NonNullable<typeof step.page>["blocks"]) =>
  fillPage(compilePage({ ...step, page: { version: 1, title: "x", blocks } }, context).pieces, {})

it("a divider is a line, and brings its style only where it stands", () => {
  expect(blocksFor()).toContain("divider")
  const with_ = html([newBlock("divider", "b1")])
  expect(with_).toContain("<main><hr></main>")
  expect(with_).toContain("hr{border:0;border-top:1px solid")
  expect(html([newBlock("headline", "b1")])).not.toContain("hr{")
})
