import type { ReactNode } from "react"

export type Column = {
  readonly says: ReactNode
  /** Width, where it isn't what is left over; as a class, such as `w-36`. */
  readonly wide?: string
  /** Numbers: read from the right. */
  readonly right?: boolean
  readonly sorted?: "ascending" | "descending"
  /** Where what it says is not by itself a key. */
  readonly key?: string
}

/** A table with its head; where it is wider than its place, it scrolls by itself. */
export function Table({
  columns,
  className = "",
  children,
}: {
  columns: readonly Column[]
  className?: string
  children: ReactNode
}) {
  return (
    <div className="relative overflow-x-auto">
      <table className={`w-full text-left ${className}`}>
        <thead className="text-label text-soft">
          <tr className="border-b border-line">
            {columns.map((c) => (
              <th
                key={c.key ?? String(c.says)}
                scope="col"
                className={`py-1.5 font-semibold ${c.wide ?? ""} ${c.right ? "text-right" : ""}`}
                aria-sort={c.sorted}
              >
                {c.says}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  )
}
