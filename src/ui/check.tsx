import { type ReactNode, useId } from "react"

/** A box to tick, with its words; `hint` stands below and is read with it. */
export function Check({
  checked,
  onChange,
  children,
  hint,
}: {
  checked: boolean
  onChange: (checked: boolean) => void
  children: ReactNode
  hint?: ReactNode
}) {
  const described = useId()
  return (
    <div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-slate"
          checked={checked}
          aria-describedby={hint ? described : undefined}
          onChange={(e) => onChange(e.target.checked)}
        />{" "}
        {children}
      </label>
      {hint ? (
        <p id={described} className="mt-1 text-fine text-soft">
          {hint}
        </p>
      ) : null}
    </div>
  )
}
