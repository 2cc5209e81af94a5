"use client"
import { useState } from "react"
import { type Occasion, occasions } from "@/core/funnel/occasion/list"
import { isChosen } from "@/core/person/field"
import type { Again } from "@/core/sequence/effect/kind"
import { effectKinds } from "@/core/sequence/effect/list"
import type { EffectListed } from "@/server/funnel/effects-view"
import type { SegmentChoices } from "@/server/person/segment-view"
import { Button } from "@/ui/button"
import { option, SelectField } from "@/ui/field"
import { Link } from "@/ui/link"
import { useAction } from "@/ui/use-action"
import { AgainField } from "../../../add-effect"
import { addOnOccasionAction, removeOnOccasionAction } from "../../../effect-actions"

type Named = { readonly id: number; readonly name: string }

/** What begins a sequence, wherever it hangs; and a new beginning on an occasion. */
export function Beginnings({
  sequence,
  all,
  choices,
  sequences,
}: {
  sequence: number
  all: readonly EffectListed[]
  choices: SegmentChoices
  sequences: readonly Named[]
}) {
  const { busy, refused: trouble, run } = useAction()
  const about: Readonly<Record<string, readonly Named[]>> = {
    offer: choices.offers,
    tag: choices.tags,
    lesson: choices.lessons,
    course: choices.courses,
    field: choices.fields.filter((f) => !isChosen(f)).map((f) => ({ id: f.id, name: f.label })),
    choice: choices.fields.flatMap((f) => f.choices.map((c) => ({ id: c.id, name: `${f.label} ${c.says}` }))),
    coupon: choices.coupons,
    sequence: sequences.filter((q) => q.id !== sequence),
  }
  const can = (Object.keys(occasions) as Occasion[]).filter((o) => {
    const of = occasions[o].about
    return of === null || about[of]?.length
  })
  const [occasion, setOccasion] = useState<Occasion>(can[0] ?? "joined")
  const [of, setOf] = useState(0)
  const [again, setAgain] = useState<Again>("no")
  const list = about[occasions[occasion].about ?? ""] ?? []
  const chosen = list.some((x) => x.id === of) ? of : (list[0]?.id ?? 0)
  return (
    <section aria-label="Its beginnings" className="mt-6 border-t border-line pt-3">
      <h2>Begins when somebody …</h2>
      {all.length ? (
        <ul>
          {all.map((e) => (
            <li key={e.id} className="flex flex-wrap items-baseline gap-x-3 border-t border-line py-1.5 first:border-0">
              <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
                {e.when}
                <span className="text-soft"> ({effectKinds["begin-sequence"].again?.choices[e.again]})</span>
              </span>
              <Link className="text-note text-slate hover:underline" href={e.href}>
                {e.where}
              </Link>
              {e.occasion ? (
                <button
                  type="button"
                  aria-label={`Remove: ${e.when}`}
                  disabled={busy}
                  className="min-h-6 px-1.5 text-note text-dusk hover:underline"
                  onClick={() => run(() => removeOnOccasionAction(e.id))}
                >
                  Remove
                </button>
              ) : null}
            </li>
          ))}
        </ul>
      ) : (
        <p className="text-soft">Nothing begins it yet.</p>
      )}
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <div className="w-72">
          <SelectField label="Occasion" value={occasion} onChange={(e) => setOccasion(e.target.value as Occasion)}>
            {can.map((o) => option(o, occasions[o].says("…")))}
          </SelectField>
        </div>
        {list.length ? (
          <div className="w-64">
            <SelectField label="Which" value={chosen} onChange={(e) => setOf(Number(e.target.value))}>
              {list.map((x) => option(x.id, x.name))}
            </SelectField>
          </div>
        ) : null}
        <div className="w-64">
          <AgainField kind="begin-sequence" value={again} onChange={setAgain} />
        </div>
        <Button
          disabled={busy}
          onClick={() =>
            run(() =>
              addOnOccasionAction({
                occasion,
                of: occasions[occasion].about === null ? 0 : chosen,
                kind: "begin-sequence",
                sequence,
                again,
              }),
            )
          }
        >
          Add
        </Button>
      </div>
      {trouble ? (
        <p role="alert" className="mt-1 text-note text-dusk">
          {trouble}
        </p>
      ) : null}
      <p className="mt-1 text-label text-soft">Outcomes of a funnel’s steps are added in the funnel.</p>
    </section>
  )
}
