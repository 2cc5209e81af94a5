// The parts of a form that narrows a list down; each is a word of the list's address.
import { option } from "./field"

const box = "rounded-md border border-line bg-card py-1.5"

export function SearchBox({
  label,
  placeholder,
  value,
  wide = "w-56",
}: {
  label: string
  placeholder: string
  value: string
  wide?: string
}) {
  return (
    <input
      name="search"
      type="search"
      aria-label={label}
      placeholder={placeholder}
      defaultValue={value}
      className={`${wide} ${box} px-2.5`}
    />
  )
}

/** Only what has one of these; the first words stand for all. */
export function OnlyWith({
  name,
  label,
  any,
  value,
  options,
}: {
  name: string
  label: string
  any: string
  value: string | number | null
  options: readonly { readonly value: string | number; readonly says: string }[]
}) {
  return (
    <select name={name} aria-label={label} defaultValue={value ?? ""} className={`max-w-44 ${box} px-2`}>
      <option value="">{any}</option>
      {options.map((o) => option(o.value, o.says))}
    </select>
  )
}
