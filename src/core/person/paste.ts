// Addresses that are pasted, many at once: a line each, with a name or without, or CSV (RFC 4180) with or without a head.
import Papa from "papaparse"
import { type Address, parseAddress } from "./address"

export type PastedPerson = {
  /** The line as it was typed, at most 200 characters. */
  readonly typed: string
  /** Null where no address can be read in it. */
  readonly address: Address | null
  /** At most 80 characters; empty where none was given. */
  readonly name: string
}

/** Reads `a@b`, `Name <a@b>` (RFC 5322, 3.4), or cells of which one is an address and the first other one a name. */
export function readPeople(text: string): PastedPerson[] {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: "greedy" })
  const rows = data.map((cells) => cells.map((c) => c.trim()).filter(Boolean))
  const first = rows[0]
  const head = rows.length > 1 && first?.every((c) => !c.includes("@")) && first.some((c) => /mail/i.test(c))
  return (head ? rows.slice(1) : rows).filter((cells) => cells.length).map(readCells)
}

function readCells(cells: readonly string[]): PastedPerson {
  const typed = cells.join(", ").slice(0, 200)
  for (const [i, cell] of cells.entries()) {
    const angled = /^(.*?)<([^<>]+)>$/.exec(cell)
    const address = parseAddress(angled?.[2] ?? cell)
    if (!address) continue
    const name = angled?.[1]?.trim().replace(/^"|"$/g, "") || cells.find((c, j) => j !== i && !c.includes("@")) || ""
    return { typed, address, name: name.replace(/\s+/g, " ").slice(0, 80) }
  }
  return { typed, address: null, name: "" }
}
