"use client"
import { occasions } from "@/core/funnel/occasion/list"
import { deedSays } from "@/core/sequence/effect/list"
import type { OnOccasion } from "@/server/funnel/occasion"
import { Link } from "@/ui/link"
import { useAction } from "@/ui/use-action"
import { AddEffect, type EffectChoices } from "./add-effect"
import { addOnOccasionAction, removeOnOccasionAction } from "./effect-actions"

/** What hangs on the occasions about one thing; `of`: its number, `name`: what it is called in a sentence. */
export function SetsOff({
  of,
  name,
  title = "Automations",
  on,
  choices,
}: {
  of: number
  name: string
  title?: string
  on: readonly OnOccasion[]
  choices: EffectChoices
}) {
  const { busy, refused: trouble, run } = useAction()
  return (
    <section aria-label={title} className="mt-5 border-t border-line pt-3">
      <div className="flex items-baseline justify-between gap-3">
        <h2>{title}</h2>
        <Link className="text-label text-slate hover:underline" href="/studio/settings/automations">
          All automations
        </Link>
      </div>
      <ul>
        {on.map(({ occasion, deeds }) => (
          <li
            key={occasion}
            className="grid grid-cols-1 gap-x-3 gap-y-1 border-t border-line py-1.5 first:border-0 sm:grid-cols-2"
          >
            <span className="min-w-0 [overflow-wrap:anywhere]">When somebody {occasions[occasion].says(name)}</span>
            <ul className="flex min-w-0 flex-wrap gap-1">
              {deeds.map((d) => (
                <li
                  key={d.id}
                  className="flex max-w-full items-center rounded border border-line bg-paper pl-1.5 text-label"
                >
                  <span className="truncate">{deedSays(d)}</span>
                  <button
                    type="button"
                    aria-label={`Remove: ${deedSays(d)}`}
                    disabled={busy}
                    onClick={() => run(() => removeOnOccasionAction(d.id))}
                    className="min-h-6 px-1.5 text-soft hover:text-dusk"
                  >
                    ×
                  </button>
                </li>
              ))}
              <li>
                <AddEffect {...choices} onAdd={(chosen) => addOnOccasionAction({ ...chosen, occasion, of })} />
              </li>
            </ul>
          </li>
        ))}
      </ul>
      {trouble ? (
        <p role="alert" className="text-note text-dusk">
          {trouble}
        </p>
      ) : null}
      <p className="mt-1 text-label text-soft">It counts from now on, without publishing.</p>
    </section>
  )
}
