import { expect, test } from "vitest"
import { focusClass, focusCss, iconOf, jpegOf, narrowed, pictureTag, widthsOf } from "./picture"

const picture = { url: "/media/a.webp", width: 2400, height: 1500 }

test("a picture is there in every width that is narrower than itself", () => {
  expect(widthsOf(picture)).toBe(
    "/media/a-480.webp 480w,/media/a-960.webp 960w,/media/a-1600.webp 1600w,/media/a.webp 2400w",
  )
  expect(widthsOf({ url: "/media/a.webp", width: 1300 })).toBe(
    "/media/a-480.webp 480w,/media/a-960.webp 960w,/media/a.webp 1300w",
  )
  // One that is hardly wider than a width isn't drawn in it as well; what isn't a WebP of ours has no widths.
  expect(widthsOf({ url: "/media/a.webp", width: 1000 })).toBe("/media/a-480.webp 480w,/media/a.webp 1000w")
  expect(widthsOf({ url: "/media/a.webp", width: 500 })).toBe("")
  expect(widthsOf({ url: "/media/a.png", width: 2400 })).toBe("")
})

test("srcset and sizes are as HTML has them (4.8.4.2.1): a width behind each address, a length behind each condition", () => {
  const widths = widthsOf(picture).split(",")
  for (const w of widths) expect(w).toMatch(/^\/media\/\S+ \d+w$/)
  const sizes = /sizes="([^"]+)"/.exec(pictureTag(picture, { as: "third" }).text)![1]!
  for (const s of sizes.split(",")) expect(s).toMatch(/^(\(min-width:\d+rem\) )?\d+(rem|vw)$/)
  expect(sizes).toMatch(/(^|,)100vw$/)
})

test("in the first screen it is fetched at once, below it when it is come to; its place is kept", () => {
  const first = pictureTag(picture, { as: "half", first: true, alt: 'A "jar"' }).text
  expect(first).toContain('fetchpriority="high"')
  expect(first).not.toContain("lazy")
  expect(first).toContain('alt="A &quot;jar&quot;"')
  for (const as of ["full", "text", "half", "third", "portrait", "small"] as const) {
    const tag = pictureTag(picture, { as }).text
    expect(tag).toContain('loading="lazy"')
    expect(tag).toContain('width="2400" height="1500"')
  }
})

test("a small one is fetched in the narrowest width alone", () => {
  const tag = pictureTag(picture, { as: "small" }).text
  expect(tag).toContain('src="/media/a-480.webp"')
  expect(tag).not.toContain("srcset")
  expect(pictureTag({ ...picture, width: 300 }, { as: "small" }).text).toContain('src="/media/a.webp"')
})

test("it is cut around what matters in it, in fifths", () => {
  expect(focusClass({})).toBe("")
  expect(focusClass({ focus: [50, 50] })).toBe("")
  expect(focusClass({ focus: [0, 100] })).toBe("fx0 fy4")
  expect(focusClass({ focus: [65, 45] })).toBe("fx3")
  for (let at = 0; at <= 100; at++)
    for (const name of focusClass({ focus: [at, at] })
      .split(" ")
      .filter(Boolean))
      expect(focusCss).toContain(`.${name}{--${name.slice(0, 2)}:${Number(name[2]) * 25}%}`)
  expect(pictureTag({ ...picture, focus: [10, 50] }, { as: "full", also: "behind" }).text).toContain(
    'class="behind fx0"',
  )
})

test("its other forms have names beside its own", () => {
  expect(narrowed("/media/a.webp", 480)).toBe("/media/a-480.webp")
  expect(iconOf("/media/a.webp")).toBe("/media/a-icon.png")
})

test("what knows no WebP gets a JPEG with the size that it has", () => {
  expect(jpegOf(picture)).toEqual({ url: "/media/a.webp.jpg", width: 1120, height: 700 })
  expect(jpegOf({ ...picture, width: 800, height: 500 })).toEqual({ url: "/media/a.webp.jpg", width: 800, height: 500 })
})
