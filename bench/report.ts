// How a benchmark says what it found: our figure, what it is measured against in the same run, and the ratio.

export type Line = {
  readonly what: string
  readonly ours: string
  readonly against?: string
  readonly ratio?: string
  readonly wanted: string
  readonly missed?: boolean
}

export type Found = Readonly<Record<string, readonly Line[]>>

export function median(values: readonly number[]): number {
  return quantile(values, 0.5)
}

/** The smallest value that at least this share of all does not exceed. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.max(0, Math.ceil(share * sorted.length) - 1)] ?? Number.NaN
}

/** `before`: the same of an earlier run, beside which each stands. */
export function printLines(title: string, lines: readonly Line[], before: readonly Line[] = []): void {
  console.log(`\n${title}`)
  for (const l of lines) {
    const was = before.find((b) => b.what === l.what)
    const parts = [
      l.what.padEnd(52),
      l.ours.padStart(14),
      l.against && `against ${l.against}`,
      l.ratio && `ratio ${l.ratio}`,
      was && `before: ${was.ratio ?? was.ours}`,
      `(wanted: ${l.wanted}${l.missed ? "; missed" : ""})`,
    ]
    console.log(`  ${parts.filter(Boolean).join("   ")}`)
  }
}
