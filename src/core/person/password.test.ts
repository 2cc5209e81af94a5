// The rules are those of NIST SP 800-63B; which passwords are common says the list of @zxcvbn-ts/language-common.
import { describe, expect, it } from "vitest"
import { normalPassword, passwordTrouble } from "./password"

describe("a new password", () => {
  it.each([
    ["brine before breakfast", null],
    ["läng genüg", null],
    ["  salt  and  x  ", null],
    ["ガーデンパスワード長い", null],
    ["12345678901", "common"],
    ["1234567890", "common"],
    ["qwertyuiop", "common"],
    ["QWERTYUIOP", "common"],
    ["aaaaaaaaaaaa", "common"],
    ["abababababa", "common"],
    ["maren@junipercrock.example", "common"],
    ["short", "short"],
    ["ninechars", "short"],
    ["😀😀😀😀😀😀😀😀😀", "short"],
    ["x1".repeat(101), "long"],
  ])("%j is %s", (password, trouble) => {
    expect(passwordTrouble(password, ["maren@junipercrock.example"])).toBe(trouble)
  })
  it("needs neither capitals nor digits nor signs", () => {
    expect(passwordTrouble("only small letters")).toBeNull()
  })
  it("is the same however it is composed", () => {
    expect(normalPassword("caf\u0065\u0301 in the morning")).toBe(normalPassword("café in the morning"))
  })
})
