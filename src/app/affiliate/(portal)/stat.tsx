/** A figure with what it is of. */
export function Stat({ says, value }: { says: string; value: string }) {
  return (
    <div>
      <p className="text-note text-soft">{says}</p>
      <p className="font-display text-xl font-bold tabular-nums sm:text-2xl">{value}</p>
    </div>
  )
}
