import { studio } from "@/app/guard"
import { effectChoices, type LinkSaid, whatSetsOffWhat } from "@/server/funnel/effects-view"
import { effectsAbout } from "@/server/funnel/occasion"
import { Link } from "@/ui/link"
import { SetsOff } from "../../sets-off"

export const metadata = { title: "Automations" }

/** Everything that is set off anywhere, in one list. */
export default async function EffectsPage() {
  const s = await studio()
  const all = await whatSetsOffWhat(s.db)
  return (
    <>
      <h1 className="mt-4">Automations</h1>
      <p className="mt-1 text-soft">
        Everything that happens by itself, and what sets it off. Each is changed where it hangs: at a step of a funnel,
        an offer, a lesson, a tag or a sequence.
      </p>
      <SetsOff
        of={0}
        name=""
        title="Anywhere in the school"
        on={await effectsAbout(s.db, null, 0)}
        choices={await effectChoices(s.db)}
      />
      <h2 className="mt-6">What sets off what</h2>
      <p className="text-soft">In the order in which it is done, and with all that follows from it.</p>
      {all.length === 0 ? (
        <p className="mt-1 text-soft">Nothing is set off yet. A new funnel brings its own.</p>
      ) : (
        <ul className="mt-2">
          {all.map((o) => (
            <li key={`${o.when} ${o.href}`} className="border-t border-line py-2">
              <p className="[overflow-wrap:anywhere]">
                When somebody <strong>{o.when}</strong>{" "}
                <Link className="text-note text-slate hover:underline" href={o.href}>
                  {o.where}
                </Link>
              </p>
              <Links all={o.sets} />
            </li>
          ))}
        </ul>
      )}
    </>
  )
}

/** What is done in its order, each with what follows from it below. */
function Links({ all }: { all: readonly LinkSaid[] }) {
  return (
    <ol className="ml-4 list-none border-l border-line pl-3">
      {all.map((l, i) => (
        <li key={`${l.says} ${i}`} className="py-0.5 [overflow-wrap:anywhere]">
          {l.later ? <span className="text-soft">later </span> : null}
          {l.maybe ? <span className="text-soft">for some </span> : null}
          {l.says}
          {l.again ? <span className="text-soft">, as above</span> : null}
          {l.follows.length ? <Links all={l.follows} /> : null}
        </li>
      ))}
    </ol>
  )
}
