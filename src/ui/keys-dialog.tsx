import { Dialog } from "./dialog"

/** The keys of a view, each with what it does. */
export function KeysDialog({
  keys,
  open,
  onOpenChange,
}: {
  keys: readonly (readonly [string, string])[]
  open: boolean
  onOpenChange: (open: boolean) => void
}) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Keys">
      <dl className="grid grid-cols-[7rem_1fr] gap-y-1.5">
        {keys.map(([key, does]) => (
          <div key={key} className="contents">
            <dt className="font-semibold">{key}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  )
}
