// Read back by a decoder of its own (jsqr), from pixels.
import jsQR from "jsqr"
import sharp from "sharp"
import { describe, expect, it } from "vitest"
import { qrSvg } from "./qr"

async function read(svg: string, width: number): Promise<string | undefined> {
  const { data, info } = await sharp(Buffer.from(svg))
    .resize(width)
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
  return jsQR(new Uint8ClampedArray(data), info.width, info.height)?.data
}

describe("a QR code", () => {
  it.each([
    "https://crock.example/by/ada",
    "https://crock.example/a-year?via=ada.market-stall",
    `https://crock.example/${"long-part/".repeat(12)}?via=${"a".repeat(40)}.${"b".repeat(40)}`,
    "https://crock.example/jalapeño?via=ana",
  ])("says %s", async (text) => {
    expect(await read(qrSvg(text), 500)).toBe(text)
  })
  it("is read small as well", async () => {
    expect(await read(qrSvg("https://crock.example/by/ada"), 160)).toBe("https://crock.example/by/ada")
  })
})
