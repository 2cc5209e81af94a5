import { type ComponentProps, type ReactNode, useId } from "react"

const box =
  "min-h-[2.4rem] w-full rounded-md border border-line bg-card px-2.5 py-1.5 text-ink aria-invalid:border-dusk"

export function Field({
  label,
  hint,
  error,
  children,
}: {
  label: string
  hint?: ReactNode
  error?: string
  children: (props: {
    id: string
    "aria-describedby"?: string
    "aria-invalid"?: boolean
    className: string
  }) => ReactNode
}) {
  const id = useId()
  const note = error || hint
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-label font-semibold">
        {label}
      </label>
      {children({
        id,
        className: box,
        ...(note ? { "aria-describedby": `${id}-note` } : {}),
        ...(error ? { "aria-invalid": true } : {}),
      })}
      {note ? (
        <p id={`${id}-note`} className={`mt-1 text-fine ${error ? "font-semibold text-dusk" : "text-soft"}`}>
          {note}
        </p>
      ) : null}
    </div>
  )
}

export function TextField({
  label,
  hint,
  error,
  ...rest
}: ComponentProps<"input"> & { label: string; hint?: ReactNode; error?: string }) {
  return (
    <Field label={label} hint={hint} error={error}>
      {(p) => <input {...p} {...rest} />}
    </Field>
  )
}

export function SelectField({
  label,
  hint,
  error,
  children,
  ...rest
}: ComponentProps<"select"> & { label: string; hint?: ReactNode; error?: string }) {
  return (
    <Field label={label} hint={hint} error={error}>
      {(p) => (
        <select {...p} {...rest} className={`${p.className} pr-7 text-ellipsis`}>
          {children}
        </select>
      )}
    </Field>
  )
}

/** Text of several lines. */
export function TextArea({
  label,
  hint,
  error,
  ...rest
}: ComponentProps<"textarea"> & { label: string; hint?: ReactNode; error?: string }) {
  return (
    <Field label={label} hint={hint} error={error}>
      {(p) => <textarea {...p} {...rest} />}
    </Field>
  )
}

/** A choice of a list, as an option of a select. */
export const option = (value: string | number, says: ReactNode) => (
  <option key={value} value={value}>
    {says}
  </option>
)

/** Gives fields what belongs to a name: what stands there, what is typed, and why it was refused. */
export const binder =
  <F extends object>(form: F, set: (form: F) => void, error?: (field: string) => string | undefined) =>
  <K extends keyof F & string>(name: F[K] extends string ? K : never) => ({
    value: form[name as K] as string,
    onChange: (e: { target: { value: string } }) => set({ ...form, [name]: e.target.value }),
    error: error?.(name),
  })
