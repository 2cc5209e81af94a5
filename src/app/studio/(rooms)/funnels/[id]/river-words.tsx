import type { CountedRiver } from "./workspace"

/** The river as a list in words: always there for whoever can't see the drawing, shown to others on demand. */
export function RiverWords({ outline, shown }: Pick<CountedRiver, "outline"> & { shown: boolean }) {
  return (
    <section
      aria-label="The river in words"
      className={shown ? "mb-3 rounded-lg border border-line bg-card p-4" : "sr-only"}
    >
      <ol className={shown ? "space-y-2" : undefined}>
        {outline.map((o) => (
          <li key={o.step}>
            <strong>{o.text}</strong>
            <ul className={shown ? "ml-5 list-disc" : undefined}>
              {o.ways.map((w) => (
                <li key={w}>{w}</li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </section>
  )
}
