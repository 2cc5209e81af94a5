import { expect, it } from "vitest"
import { readCosts } from "./cost"

const head = ["date", "source", "amount", "currency"]
const refused = (...rows: string[][]) => {
  const read = readCosts([head, ...rows], "EUR")
  return "refused" in read ? read.refused : ""
}

it("reads a source and a day a line, by whatever its columns are called", () => {
  const rows = [
    ["Spend", "Day", "utm_source", "clicks"],
    ["12.50", "2026-11-01", " garden  letter ", "40"],
    ["1’200", "2026-11-02", "garden letter", "9"],
    ["0", "2024-02-29", "podcast", ""],
  ]
  expect(readCosts(rows, "EUR")).toEqual({
    costs: [
      { source: "garden letter", day: "2026-11-01", amount: 1_250 },
      { source: "garden letter", day: "2026-11-02", amount: 120_000 },
      { source: "podcast", day: "2024-02-29", amount: 0 },
    ],
  })
  expect(readCosts([head, ["2026-11-01", "x", "700", "jpy"]], "JPY")).toMatchObject({ costs: [{ amount: 700 }] })
})

it("refuses the whole, with the line, where something is wrong", () => {
  const good = ["2026-11-01", "x", "1.00", "EUR"]
  expect(refused(good, ["2026-11-31", "x", "1", ""])).toMatch(/^Line 3: the date/)
  expect(refused(good, ["1.11.2026", "x", "1", ""])).toMatch(/^Line 3: the date/)
  expect(refused(good, ["2026-11-02", "x", "-1", ""])).toMatch(/^Line 3: the amount/)
  expect(refused(good, ["2026-11-02", "x", "1.234", ""])).toMatch(/^Line 3: the amount/)
  expect(refused(good, ["2026-11-02", "x", "1", "USD"])).toBe("Line 3: it is in USD. Your school reckons in EUR.")
  expect(refused(good, ["2026-11-02", " ", "1", ""])).toMatch(/names no source/)
  expect(refused(good, ["2026-11-02", "x", "1", ""], good)).toBe(
    "Line 4: the same source and day stand in line 2 already.",
  )
  expect(refused()).toMatch(/no costs/)
  expect(readCosts([["a", "b"]], "EUR")).toHaveProperty("refused")
  expect(readCosts([], "EUR")).toHaveProperty("refused")
})
