import { describe, expect, it } from "vitest"
import { cleanPage } from "@/server/page/rich-text"
import type { CheckAt } from "./block/kind"
import { readPage } from "./document"
import { deadLinks, isOurLink, linked, linkRefs } from "./linked"

const at = {
  address: (to: unknown) => ((to as { step: number }).step === 12 ? "/first?a&b" : null),
  context: {
    addresses: new Map([
      ["course:3", "/learn/salt"],
      ["file:9", "/media/a.pdf"],
    ]),
  } as never,
}

describe("links to things of the school", () => {
  const text = `<p><a href="step:12">a</a> <a href="course:3">b</a> <a href="https://x.example/step:12">c</a></p>`
  it("get the address that these have now; what is gone leads to the page itself", () => {
    expect(linked(text, at)).toBe(
      `<p><a href="/first?a&amp;b">a</a> <a href="/learn/salt">b</a> <a href="https://x.example/step:12">c</a></p>`,
    )
    expect(linked(`<a href="step:13">x</a><a href="course:4">y</a>`, at)).toBe(`<a href="#">x</a><a href="#">y</a>`)
  })
  it("are known as what they refer to", () => {
    expect(linkRefs(text)).toEqual([
      { to: "step", id: 12, use: "links to it" },
      { to: "course", id: 3, use: "links to it" },
    ])
    expect(linkRefs(`<a href="file:9">x</a>`)).toEqual([{ to: "media", id: 9, use: "links to it" }])
    expect(linked(`<a href="file:9">x</a>`, at)).toBe(`<a href="/media/a.pdf">x</a>`)
  })
  it("that lead to no step are found, each text once", () => {
    const check = { step: { id: 1, name: "First" }, address: at.address } as unknown as CheckAt
    expect(deadLinks({ id: "t", html: text }, check)).toEqual([])
    const dead = `<a href="step:13">x</a><a href="step:14">x</a>`
    expect(deadLinks({ id: "t", html: dead }, check)).toMatchObject([
      { rule: "link-without-target", fix: { go: "page", step: 1, block: "t" } },
    ])
  })
  it("stay when a page is saved, and nothing that only looks like them does", () => {
    const saved = (html: string) => {
      const [b] = cleanPage(readPage({ version: 1, title: "x", blocks: [{ id: "t", kind: "text", html }] })).blocks
      return b?.kind === "text" ? b.html : ""
    }
    expect(saved(text)).toBe(text)
    for (const href of [
      "step:",
      "step:0",
      "step:12;x",
      "STEP:12",
      "course:-1",
      "course:1234567890",
      "offer:03",
      "call:3",
      "javascript:alert(1)",
    ]) {
      expect(isOurLink(href)).toBe(false)
      expect(saved(`<a href="${href}">x</a>`)).toBe("<a>x</a>")
    }
  })
})
