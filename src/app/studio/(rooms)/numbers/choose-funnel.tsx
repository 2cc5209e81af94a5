import { option } from "@/ui/field"

/** Which funnel is looked at, in a form of its own address. */
export function ChooseFunnel({
  funnels,
  value,
}: {
  funnels: readonly { readonly id: number; readonly name: string }[]
  value: number
}) {
  return (
    <select
      name="funnel"
      aria-label="Funnel"
      defaultValue={value}
      className="max-w-72 rounded-md border border-line bg-card px-2 py-1.5"
    >
      {funnels.map((f) => option(f.id, f.name))}
    </select>
  )
}
