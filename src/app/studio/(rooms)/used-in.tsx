import type { Use } from "@/server/reference"
import { NameLink } from "@/ui/link"

/** Where something is used, place by place. */
export function UsedIn({ uses }: { uses: readonly Use[] }) {
  // What one place says of it more than once is one line.
  const places = [...new Map(uses.map((u) => [`${u.says} ${u.use}`, u])).values()]
  return (
    <section aria-label="Where it is used" className="mt-4 pt-2">
      <h2>Where it is used</h2>
      {places.length === 0 ? (
        <p className="text-soft">Nowhere yet.</p>
      ) : (
        <ul>
          {places.map((u) => (
            <li key={`${u.says}${u.use}`} className="border-t border-line py-1 first:border-0 [overflow-wrap:anywhere]">
              <NameLink href={u.href}>{u.says}</NameLink> <span className="text-soft">{u.use}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
