"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { decimalOf, moneyText, parseAmount } from "@/core/offer/money"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { refundAction } from "../../actions"

type Given = {
  readonly id: number
  readonly bought: string
  readonly charges: readonly { readonly id: number; readonly says: string; readonly left: number }[]
}

/** Gives money back, whole or in part; of the first order and, asked about one by one, of the further ones. */
export function GiveBack({ story, currency, orders }: { story: number; currency: string; orders: readonly Given[] }) {
  const [open, setOpen] = useState(false)
  const [once, setOnce] = useState("")
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const [amounts, setAmounts] = useState<Readonly<Record<number, string>>>({})
  const [access, setAccess] = useState<"stays" | "ends" | "">("")
  const [why, setWhy] = useState("")
  const [said, setSaid] = useState("")
  const [busy, start] = useTransition()
  const router = useRouter()
  const all = orders.flatMap((o) => o.charges)
  const typed = (c: Given["charges"][number]) => amounts[c.id] ?? decimalOf(c.left, currency)
  const read = all.filter((c) => chosen.has(c.id)).map((c) => ({ c, amount: parseAmount(typed(c), currency) }))
  const wrong = (c: Given["charges"][number]) => {
    const amount = read.find((r) => r.c === c)?.amount
    if (amount === undefined) return undefined
    if (!amount) return `An amount in ${currency}, more than nothing.`
    return amount > c.left ? `At most ${moneyText(c.left, currency)}.` : undefined
  }
  const total = read.reduce((sum, r) => sum + (r.amount ?? 0), 0)
  const missing = !read.length
    ? "Choose a charge to refund."
    : read.some((r) => wrong(r.c))
      ? "Correct the amount first."
      : access === ""
        ? "Say whether access ends or stays open."
        : ""
  const begin = () => {
    setOnce(crypto.randomUUID())
    setChosen(new Set(orders[0]?.charges.slice(0, 1).map((c) => c.id)))
    setAmounts({})
    setAccess("")
    setSaid("")
    setOpen(true)
  }
  const give = () =>
    start(async () => {
      const done = await refundAction({
        story,
        once,
        access,
        why,
        items: read.map((r) => ({ charge: r.c.id, amount: r.amount })),
      })
      if ("refused" in done) return setSaid(done.refused)
      setOpen(false)
      router.refresh()
    })
  return (
    <>
      <Button onClick={begin} className="shrink-0">
        Refund…
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title="Refund" wide>
        {orders.map((o, i) => (
          <fieldset key={o.id} className="mb-4 min-w-0">
            <legend className="font-semibold">
              {i === 0 ? `Of order ${o.id}: ${o.bought}` : `They also took ${o.bought} after it. Of that, too?`}
            </legend>
            {o.charges.map((c) => (
              <div key={c.id} className="mt-1.5 flex items-start justify-between gap-4">
                <label className="flex items-baseline gap-2 pt-1.5">
                  <input
                    type="checkbox"
                    className="accent-slate"
                    checked={chosen.has(c.id)}
                    onChange={(e) => {
                      const next = new Set(chosen)
                      if (e.target.checked) next.add(c.id)
                      else next.delete(c.id)
                      setChosen(next)
                    }}
                  />
                  {c.says}
                </label>
                {chosen.has(c.id) ? (
                  <div className="w-44">
                    <TextField
                      label={`${currency}, of ${decimalOf(c.left, currency)}`}
                      inputMode="decimal"
                      value={typed(c)}
                      onChange={(e) => setAmounts({ ...amounts, [c.id]: e.target.value })}
                      error={wrong(c)}
                    />
                  </div>
                ) : null}
              </div>
            ))}
          </fieldset>
        ))}
        <fieldset className="mb-4">
          <legend className="font-semibold">Access</legend>
          {(
            [
              ["ends", "Ends, and nothing more is charged"],
              ["stays", "Stays open"],
            ] as const
          ).map(([value, says]) => (
            <label key={value} className="mt-1 flex items-baseline gap-2">
              <input
                type="radio"
                name="access"
                className="accent-slate"
                checked={access === value}
                onChange={() => setAccess(value)}
              />
              {says}
            </label>
          ))}
        </fieldset>
        <TextField
          label="Reason, for your own books"
          value={why}
          maxLength={200}
          onChange={(e) => setWhy(e.target.value)}
        />
        <Refusal className="mt-3">{said}</Refusal>
        <div className="mt-4 flex items-center justify-end gap-2">
          <p role="status" className="mr-auto text-note text-soft">
            {missing}
          </p>
          <Button onClick={() => setOpen(false)}>Cancel</Button>
          <Button look="danger" disabled={missing !== "" || busy} onClick={give}>
            {busy ? "Refunding…" : `Refund ${moneyText(total, currency)}`}
          </Button>
        </div>
      </Dialog>
    </>
  )
}
