// Rows as CSV (RFC 4180), safe to open in a spreadsheet: nothing in them is taken for a formula.
import Papa from "papaparse"

export const csv = (rows: unknown[][]) => `${Papa.unparse(rows, { escapeFormulae: true, newline: "\r\n" })}\r\n`
