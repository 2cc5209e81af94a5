import { moneyText } from "@/core/offer/money"
import { Button } from "@/ui/button"
import type { TypedSource } from "./typed"

const field = "w-full rounded-md border border-line bg-card px-2 py-1.5"
const nothing: TypedSource = { name: "", perDay: "10", click: "" }

/** Where visitors come from, how many a day, and what a click costs. */
export function Sources({
  sources,
  onSources,
  currency,
  perVisitor,
}: {
  sources: readonly TypedSource[]
  onSources: (sources: readonly TypedSource[]) => void
  currency: string
  perVisitor: number | null
}) {
  const set = (i: number, to: Partial<TypedSource>) => onSources(sources.map((s, k) => (k === i ? { ...s, ...to } : s)))
  return (
    <fieldset>
      <legend className="sr-only">Sources</legend>
      <div className="grid grid-cols-[minmax(0,1fr)_5.5rem_5.5rem_2rem] items-center gap-x-2 gap-y-1.5">
        <span className="text-label font-semibold">Source</span>
        <span className="text-label font-semibold">Visitors a day</span>
        <span className="text-label font-semibold">A click, {currency}</span>
        <span />
        {sources.map((s, i) => (
          <SourceRow
            key={i}
            of={sources.length > 1 ? ` ${i + 1}` : ""}
            source={s}
            onSource={(to) => set(i, to)}
            onRemove={sources.length > 1 ? () => onSources(sources.filter((_, k) => k !== i)) : null}
          />
        ))}
      </div>
      <div className="mt-1.5 flex items-baseline justify-between gap-3">
        <Button look="quiet" disabled={sources.length >= 30} onClick={() => onSources([...sources, nothing])}>
          Add a source
        </Button>
        {perVisitor === null || sources.length < 2 ? null : (
          <span className="text-note text-soft">Each visitor brings {moneyText(Math.round(perVisitor), currency)}</span>
        )}
      </div>
    </fieldset>
  )
}

function SourceRow({
  of,
  source: s,
  onSource,
  onRemove,
}: {
  /** Which of several, said behind each label. */
  of: string
  source: TypedSource
  onSource: (to: Partial<TypedSource>) => void
  onRemove: (() => void) | null
}) {
  return (
    <>
      <input
        aria-label={`Source${of}`}
        value={s.name}
        maxLength={60}
        placeholder="all together"
        className={field}
        onChange={(e) => onSource({ name: e.target.value })}
      />
      <input
        aria-label={`Visitors a day${of}`}
        inputMode="decimal"
        value={s.perDay}
        className={`${field} text-right`}
        onChange={(e) => onSource({ perDay: e.target.value })}
      />
      <input
        aria-label={`Cost of a click${of}`}
        inputMode="decimal"
        value={s.click}
        placeholder="0"
        className={`${field} text-right`}
        onChange={(e) => onSource({ click: e.target.value })}
      />
      {onRemove ? (
        <button type="button" aria-label={`Remove source${of}`} className="p-1.5" onClick={onRemove}>
          ×
        </button>
      ) : (
        <span />
      )}
    </>
  )
}
