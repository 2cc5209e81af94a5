// Rows as CSV (RFC 4180), safe to open in a spreadsheet: nothing in them is taken for a formula.
import Papa from "papaparse"

/** What a spreadsheet takes for a formula gets an apostrophe before it, whatever lines follow; a number stays one. */
const guarded = (cell: unknown): unknown =>
  typeof cell === "string" && /^[=+\-@\t\r]/.test(cell) && !/^-\d+(\.\d+)?$/.test(cell) ? `'${cell}` : cell

export const csv = (rows: unknown[][]) =>
  `${Papa.unparse(
    rows.map((row) => row.map(guarded)),
    { newline: "\r\n" },
  )}\r\n`
