import { Button } from "@/ui/button"
import { option } from "@/ui/field"
import { OnlyWith } from "@/ui/filter"

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

/** The same, or all of them together. */
export const OneFunnel = ({
  funnels,
  value,
}: {
  funnels: readonly { readonly id: number; readonly name: string }[]
  value: number | null
}) => (
  <OnlyWith
    name="funnel"
    label="Funnel"
    any="All funnels"
    value={value}
    options={funnels.map((f) => ({ value: f.id, says: f.name }))}
  />
)

/** What a view is called, and its table as a file. */
export const TitleWithCsv = ({ title, href }: { title: string; href: string }) => (
  <div className="mt-4 flex flex-wrap items-end justify-between gap-x-4 gap-y-2">
    <h1>{title}</h1>
    <Button asChild>
      <a href={href} download>
        As CSV
      </a>
    </Button>
  </div>
)

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
