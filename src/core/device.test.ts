// Names that browsers and programs give themselves, as their makers publish them; from memory.
import { describe, expect, it } from "vitest"
import { deviceOf, sentByProgram } from "./device"

const of = (agent: string, more = {}) => deviceOf({ "user-agent": agent, ...more })
const iPhone =
  "Mozilla/5.0 (iPhone; CPU iPhone OS 17_4 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.4 Mobile/15E148 Safari/604.1"
const android = (mobile: string) =>
  `Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/128.0.0.0 ${mobile}Safari/537.36`
const desk = "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0"

describe("a device", () => {
  it("is told from what the browser calls itself", () => {
    expect(of(iPhone)).toBe("phone")
    expect(of(android("Mobile "))).toBe("phone")
    expect(of(android(""))).toBe("tablet")
    expect(of("Mozilla/5.0 (iPad; CPU OS 12_5 like Mac OS X) AppleWebKit/605.1.15 Mobile/15E148 Safari/604.1")).toBe(
      "tablet",
    )
    expect(of(desk)).toBe("computer")
    expect(of(desk, { "sec-ch-ua-mobile": "?1" })).toBe("phone")
    expect(deviceOf({})).toBe("unknown")
  })
})

describe("a program", () => {
  it("is one that says so, or nothing", () => {
    expect(sentByProgram("Mozilla/5.0 (compatible; Googlebot/2.1; +http://www.google.com/bot.html)")).toBe(true)
    expect(sentByProgram("curl/8.5.0")).toBe(true)
    expect(sentByProgram(undefined)).toBe(true)
    for (const agent of [iPhone, android(""), desk]) expect(sentByProgram(agent)).toBe(false)
  })
})
