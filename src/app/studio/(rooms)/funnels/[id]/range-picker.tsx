"use client"

import { useRouter } from "next/navigation"
import { Popover } from "radix-ui"
import { useState } from "react"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"

export type ShownRange = { readonly from: string; readonly to: string; readonly says: string; readonly today: string }

/** `kept`: what else the address says, to be kept. */
export function RangePicker({ range, funnel, kept }: { range: ShownRange; funnel: number; kept: string }) {
  const router = useRouter()
  const [open, setOpen] = useState(false)
  const [from, setFrom] = useState(range.from)
  const [to, setTo] = useState(range.to)
  const go = (query: string) => {
    setOpen(false)
    router.push(`/studio/funnels/${funnel}?${query}${kept && `&${kept}`}`)
  }
  const back = (days: number) => {
    const d = new Date(`${range.today}T00:00:00Z`)
    d.setUTCDate(d.getUTCDate() - days + 1)
    return `from=${d.toISOString().slice(0, 10)}&to=${range.today}`
  }
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className="rounded px-1 text-body whitespace-nowrap text-soft hover:text-ink"
        aria-label={`Dates: ${range.says}. Change`}
      >
        {range.says} ▾
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          className="z-30 w-72 rounded-lg border border-line bg-card p-3 shadow-lg"
        >
          <p className="text-label text-soft">Those who first came in these days, as far as they have got by now.</p>
          <div className="mt-2 flex flex-wrap gap-1.5">
            {[7, 21, 40].map((n) => (
              <Button key={n} onClick={() => go(back(n))}>
                {n} days
              </Button>
            ))}
            <Button onClick={() => go(`from=beginning&to=${range.today}`)}>from the beginning</Button>
          </div>
          <form
            className="mt-3 space-y-2"
            onSubmit={(e) => {
              e.preventDefault()
              go(`from=${from}&to=${to}`)
            }}
          >
            <TextField label="First day" type="date" required value={from} onChange={(e) => setFrom(e.target.value)} />
            <TextField label="Last day" type="date" required value={to} onChange={(e) => setTo(e.target.value)} />
            <Button type="submit" look="primary">
              Show these days
            </Button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
