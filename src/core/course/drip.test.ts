// One lesson a day, a module a week: worked by hand (common practice).
import { describe, expect, it } from "vitest"
import { type DripRow, dripRules } from "./drip"

const rows: DripRow[] = [
  { kind: "lesson", id: 1 },
  { kind: "module", id: 1 },
  { kind: "lesson", id: 2 },
  { kind: "lesson", id: 3 },
  { kind: "module", id: 2 },
  { kind: "lesson", id: 4 },
]
const rules = (each: "lesson" | "module", days: number, at: string | null) =>
  dripRules(rows, { each, days, at }).map(({ row, opens }) => [
    `${row.kind} ${row.id}`,
    opens && (opens.kind === "after-days" ? `${opens.days} at ${opens.at ?? "their time"}` : opens.kind),
  ])

describe("a drip", () => {
  it("opens one lesson a day, whatever module it stands in", () =>
    expect(rules("lesson", 1, "06:00")).toEqual([
      ["lesson 1", "at-once"],
      ["module 1", null],
      ["lesson 2", "1 at 06:00"],
      ["lesson 3", "2 at 06:00"],
      ["module 2", null],
      ["lesson 4", "3 at 06:00"],
    ]))

  it("opens a module a week, with all of its lessons", () =>
    expect(rules("module", 7, null)).toEqual([
      ["lesson 1", null],
      ["module 1", "at-once"],
      ["lesson 2", null],
      ["lesson 3", null],
      ["module 2", "7 at their time"],
      ["lesson 4", null],
    ]))
})
