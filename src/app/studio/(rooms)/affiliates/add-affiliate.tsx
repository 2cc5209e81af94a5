"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Dialog } from "@/ui/dialog"
import { binder, Field, option, SelectField, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { addAffiliateAction, addListAction, answerNameAction, approveAction, writeToAllAction } from "./actions"

type Programmes = readonly { readonly id: number; readonly name: string }[]

/** One by hand, or many from a list. */
export function AddAffiliate({ programmes }: { programmes: Programmes }) {
  const [open, setOpen] = useState<"one" | "list" | null>(null)
  return (
    <>
      <Button onClick={() => setOpen("list")}>Add from a list</Button>
      <Button look="primary" onClick={() => setOpen("one")}>
        Add an affiliate
      </Button>
      <Dialog open={open === "one"} onOpenChange={() => setOpen(null)} title="Add an affiliate">
        <One programmes={programmes} onDone={() => setOpen(null)} />
      </Dialog>
      <Dialog open={open === "list"} onOpenChange={() => setOpen(null)} title="Add affiliates from a list">
        <List programmes={programmes} />
      </Dialog>
    </>
  )
}

function Choose({
  programmes,
  value,
  onChange,
}: {
  programmes: Programmes
  value: number
  onChange: (id: number) => void
}) {
  return (
    <SelectField label="Programme" value={value} onChange={(e) => onChange(Number(e.target.value))}>
      {programmes.map((p) => option(p.id, p.name))}
    </SelectField>
  )
}

function One({ programmes, onDone }: { programmes: Programmes; onDone: () => void }) {
  const [f, set] = useState({ email: "", name: "", offer: programmes[0]?.id ?? 0, atOnce: false })
  const { busy, answer: done, run } = useAction()
  const error = (field: string) => (done.field === field ? done.refused : undefined)
  const typed = binder(f, set, error)
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        run(() => addAffiliateAction(f), onDone)
      }}
    >
      <TextField
        label="E-mail address"
        type="email"
        {...typed("email")}
        hint="Of somebody you know already, or of anybody else."
      />
      <TextField label="Name" {...typed("name")} />
      <Choose programmes={programmes} value={f.offer} onChange={(offer) => set({ ...f, offer })} />
      <Check
        checked={f.atOnce}
        onChange={(atOnce) => set({ ...f, atOnce })}
        hint="Otherwise they are invited by e-mail, and begin once they have read the conditions and agreed."
      >
        They have agreed to the conditions already: begin at once
      </Check>
      <Button type="submit" look="primary" disabled={busy}>
        {f.atOnce ? "Add" : "Invite"}
      </Button>
      <Refusal>{!done.field && done.refused}</Refusal>
    </form>
  )
}

function List({ programmes }: { programmes: Programmes }) {
  const [offer, setOffer] = useState(programmes[0]?.id ?? 0)
  const [text, setText] = useState("")
  const [done, setDone] = useState<Awaited<ReturnType<typeof addListAction>> | null>(null)
  const [busy, start] = useTransition()
  const router = useRouter()
  return (
    <form
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          setDone(await addListAction(offer, text))
          router.refresh()
        })
      }}
    >
      <Choose programmes={programmes} value={offer} onChange={setOffer} />
      <Field label="CSV file" hint="With a header line: e-mail, and name where you have it. At most 2,000 at once.">
        {(p) => (
          <input
            {...p}
            type="file"
            accept=".csv,text/csv"
            onChange={async (e) => setText((await e.target.files?.[0]?.text()) ?? "")}
          />
        )}
      </Field>
      <Button type="submit" look="primary" disabled={busy || !text}>
        Invite them
      </Button>
      {done && "refused" in done ? (
        <p role="alert" className="font-semibold text-dusk">
          {done.refused as string}
        </p>
      ) : done ? (
        <div role="status">
          <p>{done.taken === 1 ? "One was invited." : `${done.taken} were invited.`}</p>
          {done.lines.length ? (
            <ul className="mt-1 max-h-48 overflow-auto text-body">
              {done.lines.map((l) => (
                <li key={l.line}>
                  Line {l.line}: {l.says}
                </li>
              ))}
            </ul>
          ) : null}
        </div>
      ) : null}
    </form>
  )
}

export function Approve({ affiliate, name }: { affiliate: number; name: string }) {
  const { busy, refused, run } = useAction()
  return (
    <>
      <Button disabled={busy} aria-label={`Approve ${name}`} onClick={() => run(() => approveAction(affiliate))}>
        Approve
      </Button>
      {refused ? <span role="alert">{refused}</span> : null}
    </>
  )
}

/** A broadcast to everybody who recommends, as a draft. */
export function WriteToAll() {
  const { busy, run } = useAction()
  const [once] = useOnce()
  return (
    <Button disabled={busy} onClick={() => run(() => writeToAllAction(once))}>
      Write to all
    </Button>
  )
}

/** The name that an affiliate wants to have on the school's pages. */
export function WantedName({ affiliate, wanted }: { affiliate: number; wanted: string }) {
  const { busy, run } = useAction()
  const answer = (yes: boolean) => run(() => answerNameAction(affiliate, yes))
  return (
    <p className="mt-3 flex flex-wrap items-center gap-3 rounded-md border border-amber p-3">
      <span>
        They want to be called <bdi className="font-semibold">{wanted}</bdi> on your pages.
      </span>
      <Button disabled={busy} onClick={() => answer(true)}>
        Yes
      </Button>
      <Button look="quiet" disabled={busy} onClick={() => answer(false)}>
        No
      </Button>
    </p>
  )
}
