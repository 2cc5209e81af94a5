// A webinar's dates read aloud (common practice).
import { expect, it } from "vitest"
import type { DateRule } from "./rule"
import { anyTimeWords, dateRuleWords, webinarRuleWords } from "./words"

const rule: DateRule = {
  unit: "week",
  every: 1,
  on: [4],
  nth: 1,
  at: 1140,
  from: "2026-12-03",
  until: null,
  except: [],
}

it.each([
  [{}, "every Thursday at 19:00, from 3 December 2026"],
  [
    { every: 2, on: [4, 2], until: "2027-06-30", except: [{ from: "2027-03-22", to: "2027-03-29" }] },
    "every second week on Tuesday and Thursday at 19:00, from 3 December 2026 until 30 June 2027, not from 22 March 2027 to 29 March 2027",
  ],
  [
    { unit: "month" as const, nth: -1 as const, except: [{ from: "2026-12-31", to: "2026-12-31" }] },
    "on the last Thursday of every month at 19:00, from 3 December 2026, not on 31 December 2026",
  ],
  [{ unit: "month" as const, every: 3 }, "on the first Thursday of every third month at 19:00, from 3 December 2026"],
])("%o", (over, says) => {
  expect(webinarRuleWords({ ...rule, ...over })).toBe(says)
})

it("says when one begins that begins whenever it suits", () => {
  const a = { soon: true, times: [1140, 600], from: 480, to: 1320, choices: 3 }
  expect(anyTimeWords(a)).toBe(
    "whenever it suits: within a quarter of an hour, or at 10:00 and 19:00, between 08:00 and 22:00 where the visitor is",
  )
  expect(anyTimeWords({ ...a, soon: false, times: [] })).toBe(
    "whenever it suits, between 08:00 and 22:00 where the visitor is",
  )
  expect(dateRuleWords({ kind: "dates", dates: [{ date: "2026-12-03", at: 1140 }] })).toBe("one date")
})
