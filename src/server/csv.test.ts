// What spreadsheets take for a formula: the list of OWASP, CSV Injection.
import Papa from "papaparse"
import { expect, it } from "vitest"
import { csv } from "./csv"

const read = (rows: unknown[][]) => Papa.parse<string[]>(csv(rows).trim(), { newline: "\r\n" }).data

it.each([
  "=1+1",
  "+49 170",
  "-cmd|' /C calc'!A0",
  "@SUM(A1)",
  "\t=1",
  "\r=1",
  "=1+1\nsecond line",
  "-2\n=3",
  "--5",
  "-1-2",
])("%j is text", (cell) => expect(read([[cell, "x"]])[0]).toEqual([`'${cell}`, "x"]))
it.each(["-5", "-0.50", "12.00", "", "Maren", "a=b", "2026-12-31"])("%j stays as it is", (cell) =>
  expect(read([[cell, "x"]])[0]![0]).toBe(cell),
)
it("numbers are numbers", () => expect(csv([[-5, 3.5, null]])).toBe("-5,3.5,\r\n"))
