import { studio } from "@/app/guard"
import { isChosen } from "@/core/person/field"
import { effectChoices } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { fieldsListed, usesOfField } from "@/server/person/field"
import { Link } from "@/ui/link"
import { PlaceTabs } from "../../place-tabs"
import { SetsOff } from "../../sets-off"
import { UsedIn } from "../../used-in"
import { people } from "../../words"
import { ChangeField, RemoveField } from "./change-field"
import { NewField } from "./new-field"
import { kindWords } from "./words"

export const metadata = { title: "Fields" }

export default async function FieldsPage({ searchParams }: { searchParams: Promise<{ field?: string }> }) {
  const s = await studio()
  const fields = await fieldsListed(s.db)
  const asked = Number((await searchParams).field)
  const chosen = fields.find((f) => f.id === asked)
  return (
    <div className="mx-auto max-w-5xl pt-2">
      <h1 className="mt-2">People</h1>
      <PlaceTabs of="people" className="mt-2" />
      <p className="mt-3 max-w-2xl text-soft">
        What you want to know of people besides their name and address. A form on a page asks for it, a file brings it,
        and e-mails and segments use it.
      </p>
      {fields.length ? (
        <ul className="mt-3">
          {fields.map((f) => (
            <li key={f.id} className="flex items-baseline gap-3 border-t border-line py-1.5">
              <Link
                className="min-w-0 flex-1 text-slate [overflow-wrap:anywhere] hover:underline"
                href={`/studio/people/fields?field=${f.id}`}
                aria-current={f === chosen ? "true" : undefined}
              >
                {f.label}
              </Link>
              <span className="text-note text-soft">{kindWords[f.kind]}</span>
              {f.uses ? null : <span className="text-note text-amber-text">Nothing uses it</span>}
              <span className="w-28 text-right text-soft tabular-nums">{people(f.people)}</span>
            </li>
          ))}
        </ul>
      ) : null}
      <NewField />
      {chosen ? (
        <section aria-label={`The field ${chosen.label}`} className="mt-6 rounded-lg border border-line bg-card p-4">
          <h2 className="[overflow-wrap:anywhere]">“{chosen.label}”</h2>
          <ChangeField key={`${chosen.id} ${JSON.stringify(chosen)}`} field={chosen} />
          {isChosen(chosen) ? (
            await Promise.all(
              chosen.choices.map(async (c) => (
                <SetsOff
                  key={c.id}
                  of={c.id}
                  name={`“${c.says}”`}
                  title={`What “${c.says}” sets off`}
                  on={await effectsAbout(s.db, "choice", c.id)}
                  choices={await effectChoices(s.db)}
                />
              )),
            )
          ) : (
            <SetsOff
              of={chosen.id}
              name={`“${chosen.label}”`}
              on={await effectsAbout(s.db, "field", chosen.id)}
              choices={await effectChoices(s.db)}
            />
          )}
          <UsedIn uses={await usesOfField(s.db, chosen)} />
          <RemoveField field={chosen} people={chosen.people} uses={chosen.uses} />
        </section>
      ) : null}
    </div>
  )
}
