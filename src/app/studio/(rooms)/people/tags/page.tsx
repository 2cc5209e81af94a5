import { studio } from "@/app/guard"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { listTags } from "@/server/person/tag"
import { usesOf } from "@/server/reference"
import { Link } from "@/ui/link"
import { PlaceTabs } from "../../place-tabs"
import { SetsOff } from "../../sets-off"
import { UsedIn } from "../../used-in"
import { people } from "../../words"
import { ChangeTag } from "./change-tag"
import { RemoveTag } from "./remove-tag"

export const metadata = { title: "Tags" }

export default async function TagsPage({ searchParams }: { searchParams: Promise<{ tag?: string }> }) {
  const s = await studio()
  const tags = await listTags(s.db)
  const asked = Number((await searchParams).tag)
  const chosen = tags.find((t) => t.id === asked)
  const uses = chosen ? await usesOf(s.db, "tag", chosen.id) : []
  return (
    <div className="mx-auto max-w-5xl pt-2">
      <h1 className="mt-2">People</h1>
      <PlaceTabs of="people" className="mt-2" />
      {tags.length === 0 ? (
        <p className="mt-3">There is none yet. An effect puts one on: at a step of a funnel, an offer or a lesson.</p>
      ) : (
        <ul className="mt-3">
          {tags.map((t) => (
            <li key={t.id} className="flex items-baseline gap-3 border-t border-line py-1.5">
              <Link
                className="min-w-0 flex-1 text-slate [overflow-wrap:anywhere] hover:underline"
                href={`/studio/people/tags?tag=${t.id}`}
                aria-current={t === chosen ? "true" : undefined}
              >
                {t.name}
              </Link>
              {t.used ? null : <span className="text-note text-amber-text">Nothing uses it</span>}
              <Link className="text-soft tabular-nums hover:underline" href={`/studio/people?tag=${t.id}`}>
                {people(t.people)}
              </Link>
            </li>
          ))}
        </ul>
      )}
      {chosen ? (
        <section aria-label={`The tag ${chosen.name}`} className="mt-6 rounded-lg border border-line bg-card p-4">
          <h2 className="[overflow-wrap:anywhere]">“{chosen.name}”</h2>
          <ChangeTag
            key={`${chosen.id} ${chosen.name}`}
            tag={chosen.id}
            name={chosen.name}
            others={tags.filter((t) => t !== chosen).map(({ id, name }) => ({ id, name }))}
          />
          <SetsOff
            of={chosen.id}
            name={`“${chosen.name}”`}
            on={await effectsAbout(s.db, "tag", chosen.id)}
            choices={await effectChoices(s.db)}
          />
          <UsedIn uses={uses} />
          <RemoveTag tag={chosen.id} name={chosen.name} people={chosen.people} uses={uses.length} />
        </section>
      ) : null}
    </div>
  )
}
