import { createHash } from "node:crypto"
import { IncomingMessage } from "node:http"
import { Socket } from "node:net"
import { describe, expect, it } from "vitest"
import { plainly, wear } from "@/core/look/look"
import { plainPage } from "@/core/page/plain"
import { requestOf, TooLong } from "./exchange"
import { appPolicy, pagePolicy } from "./policy"

function incoming(
  url: string,
  headers: Record<string, string> = {},
  body: (string | Buffer)[] = [],
  remote = "192.0.2.9",
) {
  const socket = new Socket()
  Object.defineProperty(socket, "remoteAddress", { value: remote })
  const req = new IncomingMessage(socket)
  Object.assign(req, { url, headers, method: body.length ? "POST" : "GET" })
  for (const chunk of body) req.push(chunk)
  req.push(null)
  return req
}

describe("a request", () => {
  it.each([
    ["/first-crock?utm_source=a", "first-crock", "a"],
    ["/", "", null],
    ["/a/b/", "a/b/", null],
    ["/?utm_source=x", "", "x"],
    ["//evil.example/x", "/evil.example/x", null],
  ])("%s stands for %j", (url, path, source) => {
    const req = requestOf(incoming(url), false)
    expect(req.path).toBe(path)
    expect(req.query.get("utm_source")).toBe(source)
  })

  it("believes the last hop of X-Forwarded-For only where a proxy of ours stands before it", () => {
    const headers = { "x-forwarded-for": "203.0.113.5, 198.51.100.7" }
    expect(requestOf(incoming("/", headers), false).ip).toBe("192.0.2.9")
    expect(requestOf(incoming("/", headers), true).ip).toBe("198.51.100.7")
    expect(requestOf(incoming("/", {}), true).ip).toBe("192.0.2.9")
    expect(requestOf(incoming("/", {}, [], "::ffff:192.0.2.1"), false).ip).toBe("192.0.2.1")
    expect(requestOf(incoming("/", { "x-forwarded-for": "x".repeat(500) }), true).ip).toHaveLength(45)
  })

  // RFC 6265, 4.2.1, with its own examples.
  it.each([
    ["SID=31d4d96e407aad42", { SID: "31d4d96e407aad42" }],
    ["SID=31d4d96e407aad42; lang=en-US", { SID: "31d4d96e407aad42", lang: "en-US" }],
    // One without a name is under none of ours.
    ["a=b=c; ; =x; lone", { a: "b=c", "": "x" }],
    ["", {}],
    [undefined, {}],
  ])("reads the cookies of %j", (header, cookies) => {
    expect(requestOf(incoming("/", header === undefined ? {} : { cookie: header }), false).cookies).toEqual(cookies)
  })

  it("reads a form of several chunks, in UTF-8, and takes the first of a field that comes twice", async () => {
    const body = Buffer.from("name=%E3%81%95%E3%81%8F%E3%82%89&email=a%40x.example&email=b%40x.example&empty=&plus=a+b")
    const req = requestOf(incoming("/", {}, [body.subarray(0, 11), body.subarray(11)]), false)
    expect(await req.form()).toEqual({ name: "さくら", email: "a@x.example", empty: "", plus: "a b" })
  })
  it("refuses a form that is too long, and lives through one that is none", async () => {
    await expect(requestOf(incoming("/", {}, ["x".repeat(70_000)]), false).form()).rejects.toBeInstanceOf(TooLong)
    expect(await requestOf(incoming("/", {}, ["%E0%A4%A=%ZZ&&&=="]), false).form()).toBeTypeOf("object")
    expect(Object.keys(await requestOf(incoming("/", {}, ["__proto__=x&constructor=y"]), false).form())).toContain(
      "constructor",
    )
  })
})

describe("the content security policy", () => {
  const hash = (text: string) => createHash("sha256").update(text).digest("base64")
  it("names exactly the style and the script that stand in a page", () => {
    const page = plainPage(
      { title: "T", paragraphs: ["p"], forms: [{ action: "/x", button: "Go" }] },
      { name: "School", look: wear(plainly("kitchen-table")) },
    )
    const policy = pagePolicy(page.style, page.script)
    const [, style] = /<style>(.*?)<\/style>/s.exec(page.html)!
    const [, script] = /<script>(.*?)<\/script>/s.exec(page.html)!
    expect(policy).toContain(`'sha256-${hash(style!)}'`)
    expect(policy).toContain(`'sha256-${hash(script!)}'`)
  })
  // W3C Content Security Policy Level 3, 8.3: the hash of "alert('Hello, world.');" as its own example gives it.
  it("hashes as the standard does", () => {
    expect(pagePolicy("", "alert('Hello, world.');")).toContain("'sha256-qznLcsROx4GACP2dm0UCKCzCG+HiZ1guq6ZZDob/Tng='")
  })
  it("allows no inline script in the studio, and no script at all where a page has none", () => {
    expect(appPolicy("abc")).toContain("'nonce-abc'")
    expect(
      appPolicy("abc")
        .split("; ")
        .find((d) => d.startsWith("script-src")),
    ).not.toContain("unsafe")
    expect(pagePolicy("x", "")).not.toContain("script-src")
    // What a page frames once somebody presses, beside the fields of cards: those hosts, and none besides.
    expect(pagePolicy("", "", "", "", ["films.example"])).toContain("frame-src https://films.example;")
    expect(pagePolicy("", "", "https://cards.example", "", ["films.example"])).toContain(
      "frame-src https://cards.example https://films.example;",
    )
    expect(pagePolicy("", "")).not.toContain("frame-src")
  })
})

describe("the small pages", () => {
  it("escape what they are given", () => {
    const bad = `<img src=x onerror="alert(1)">`
    const { html } = plainPage(
      {
        title: bad,
        paragraphs: [bad],
        forms: [
          {
            action: bad,
            button: bad,
            heading: bad,
            hidden: { [bad]: bad },
            select: { name: "zone", label: bad, options: [bad], value: bad },
          },
        ],
        links: [{ href: bad, says: bad }],
      },
      { name: bad, look: wear(plainly("conservatory")) },
    )
    expect(html).not.toContain("<img")
    expect(html).toContain('<meta name="robots" content="noindex">')
    expect(html).toContain("<option selected>")
  })
})
