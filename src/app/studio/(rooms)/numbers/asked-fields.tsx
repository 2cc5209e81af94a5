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

/** The days on which those who are looked at first came, in the same form. */
export const FirstCame = ({ period }: { period: { readonly from: string; readonly to: string } }) =>
  (["from", "to"] as const).map((name) => (
    <label key={name} className="flex items-center gap-1.5 whitespace-nowrap">
      {name === "from" ? "First came from" : "until"}
      <input
        type="date"
        name={name}
        defaultValue={period[name]}
        className="w-36 rounded-md border border-line bg-card px-2 py-1.5"
      />
    </label>
  ))
