// What a block shows where: phones or wider screens, films and sound that nothing is fetched of before, ways to pay beside each other.
import { expect, test } from "vitest"
import { offer, pageOf } from "../../../../tests/support/every-block"
import { readPage } from "../document"
import { comparisonHtml } from "../offer-parts"
import type { Block } from "./list"

const draw = (block: object, release = 1) => pageOf([block as Block], "kitchen-table", {}, release)

test("a block is for phones, for wider screens, or for both; only a page that has such a block pays for it", () => {
  const text = { id: "a", kind: "text", html: "<p>Hello</p>" }
  const phone = draw({ ...text, on: "phone" })
  expect(phone).toContain('data-on="phone"')
  expect(phone).toContain("@media(min-width:44rem){[data-on=phone]{display:none!important}}")
  expect(draw(text)).not.toContain("data-on")
  // What is made anew for each visit has no element of its own: it is held by one.
  expect(draw({ id: "a", kind: "price", offer: 1, on: "desktop" })).toContain('<div data-on="desktop">')
  // A band carries it itself, with all that it holds.
  const band = { id: "b", kind: "section", tone: "tinted", blocks: [text], on: "desktop" }
  expect(draw(band)).toContain('<div data-on="desktop" class="section tinted">')
  expect(() => readPage({ version: 1, title: "x", blocks: [{ ...text, on: "watch" }] })).toThrow()
})

test("what is still to come is shown to the editor alone", () => {
  for (const kind of ["audio", "embed"]) {
    const block = { id: "a", kind, media: null, says: "", url: "" }
    expect(draw(block, 0)).toContain("comes here")
    expect(draw({ ...block, on: "phone" }, 1)).not.toContain("comes here")
  }
  const gone = { id: "a", kind: "picture", media: 99, alt: "" }
  expect(draw(gone, 1)).not.toContain("missing")
})

test("nothing of a film is fetched before somebody presses; one from before, and a cover, play by themselves, muted", () => {
  const film = { id: "a", kind: "video", media: 2, says: "A crock" }
  const asked = draw({ ...film, plays: "asked", poster: 1, captions: 3 })
  expect(asked).toMatch(/<video preload="none" poster="[^"]+" width="1200" height="800" playsinline controls/)
  expect(asked).toContain('<track kind="captions" src="/media/a.vtt" srclang="en"')
  for (const cover of [film, { ...film, plays: "by-itself" }]) expect(draw(cover)).toContain("autoplay muted loop")
  expect(draw({ id: "a", kind: "audio", media: 4, says: "" })).toContain(
    '<audio src="/media/a.mp3" controls preload="none">',
  )
})

test("something of another site stands in a closed box, for https alone", () => {
  const shown = draw({ id: "a", kind: "embed", url: "https://films.example/e/1?a=b&c", says: "A film" })
  expect(shown).toMatch(
    /<details class="embed"><summary>.*films\.example.*<\/summary><iframe src="https:\/\/films\.example\/e\/1\?a=b&amp;c"/,
  )
  expect(shown).toContain('loading="lazy"')
  for (const bad of ["http://films.example/", "javascript:alert(1)", "https://a:b@films.example/", ""])
    expect(draw({ id: "a", kind: "embed", url: bad, says: "" }), bad).not.toContain("<iframe")
})

test("ways to pay stand beside each other where there are two and they can be had", () => {
  const shown = comparisonHtml(offer).text
  expect(shown).toMatch(/<th scope="row">Payments<\/th><td>1<\/td><td>4<\/td>/)
  expect(shown).toMatch(/<th scope="row">In all<\/th><td>€290\.00<\/td><td>€316\.00<\/td>/)
  const open = { ...offer, ways: [offer.ways[0]!, { ...offer.ways[1]!, payments: null, total: null }] }
  expect(comparisonHtml(open).text).toContain("<td>until you end it</td>")
  for (const none of [undefined, { ...offer, open: false }, { ...offer, ways: [offer.ways[0]!] }])
    expect(comparisonHtml(none).text).toBe("")
})

test("a picture that only decorates says nothing, whatever was written of it", () => {
  expect(draw({ id: "a", kind: "picture", media: 1, alt: "A jar", decorative: true })).toContain('alt=""')
})
