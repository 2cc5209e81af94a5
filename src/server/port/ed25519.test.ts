// The second signature of mail: canonicalisation by the examples of RFC 6376, 3.4.5 and 3.4.6; that a whole message verifies is
// checked by another library in tests/server/delivery.test.ts.
import { createHash, createPublicKey, generateKeyPairSync, verify } from "node:crypto"
import { describe, expect, it } from "vitest"
import { ed25519Signature, relaxedBody, relaxedField } from "./ed25519"

describe("relaxed canonicalisation", () => {
  it("of headers is as in RFC 6376, 3.4.5", () => {
    expect(relaxedField("A: X")).toBe("a:X")
    expect(relaxedField("B : Y\t\r\n\tZ  ")).toBe("b:Y Z")
  })
  it.each([
    // RFC 6376, 3.4.5.
    [" C \r\nD \t E\r\n\r\n\r\n", " C\r\nD E\r\n"],
    // RFC 6376, 3.4.4: an empty body stays empty; one without a line break at its end has one.
    ["", ""],
    ["\r\n\r\n", ""],
    ["x", "x\r\n"],
    ["a\r\n\r\nb\r\n", "a\r\n\r\nb\r\n"],
  ])("of the body %j is %j", (body, relaxed) => expect(relaxedBody(body)).toBe(relaxed))
})

describe("a signature", () => {
  const { privateKey, publicKey } = generateKeyPairSync("ed25519")
  const key = {
    domainName: "crock.example",
    keySelector: "ed",
    privateKey: privateKey.export({ type: "pkcs8", format: "pem" }) as string,
  }
  const raw = (body: string) =>
    Buffer.from(
      `From: Maren <maren@crock.example>\r\nTo: a@b.example\r\nSubject: Salt,\r\n and how much\r\nX-Other: 1\r\n\r\n${body}`,
    )
  const tag = (header: string, name: string) =>
    new RegExp(`[;\\s]${name}=([^;]*)`).exec(header.replace(/\r\n/g, ""))?.[1]?.trim()

  it("is over the hash of what it names (RFC 8463, 3), and of nothing else", () => {
    const header = ed25519Signature(raw("Two in a hundred.\r\n"), key, Date.UTC(2026, 10, 26))
    expect([tag(header, "a"), tag(header, "c"), tag(header, "d"), tag(header, "s"), tag(header, "h")]).toEqual([
      "ed25519-sha256",
      "relaxed/relaxed",
      "crock.example",
      "ed",
      "from:to:subject",
    ])
    expect(tag(header, "bh")).toBe(createHash("sha256").update("Two in a hundred.\r\n").digest("base64"))
    const unsigned = header.slice(0, header.lastIndexOf("b=") + 2)
    const data = [
      "from:Maren <maren@crock.example>",
      "to:a@b.example",
      "subject:Salt, and how much",
      relaxedField(unsigned),
    ].join("\r\n")
    const signature = Buffer.from(tag(header, "b")!, "base64")
    const hash = createHash("sha256").update(data).digest()
    expect(verify(null, hash, createPublicKey(publicKey.export({ type: "spki", format: "pem" })), signature)).toBe(true)
  })
  it("is another for another body, and for another second", () => {
    const at = Date.UTC(2026, 10, 26)
    const all = [
      ed25519Signature(raw("a"), key, at),
      ed25519Signature(raw("b"), key, at),
      ed25519Signature(raw("a"), key, at + 1000),
    ]
    expect(new Set(all.map((h) => tag(h, "b"))).size).toBe(3)
  })
})
