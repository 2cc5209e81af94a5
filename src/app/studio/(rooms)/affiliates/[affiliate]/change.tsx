"use client"
import { type ReactNode, useState } from "react"
import { parsePercent, type Rate } from "@/core/affiliate/programme"
import { rateWords } from "@/core/affiliate/words"
import { decimalOf, parseAmount } from "@/core/offer/money"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Dialog } from "@/ui/dialog"
import { SelectField, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import {
  changeAffiliateAction,
  type Done,
  endAction,
  judgeBonusAction,
  ownRateAction,
  writeOffAction,
} from "../actions"

/** A button that opens a form in a dialog; it closes once what was typed is taken. */
function Ask({
  says,
  title,
  button,
  send,
  danger = false,
  children,
}: {
  says: string
  title: string
  button: string
  send: () => Promise<Done>
  danger?: boolean
  children: (done: Done) => ReactNode
}) {
  const [open, setOpen] = useState(false)
  const { busy, answer: done, run } = useAction()
  return (
    <>
      <Button onClick={() => setOpen(true)}>{says}</Button>
      <Dialog open={open} onOpenChange={setOpen} title={title}>
        <form
          className="space-y-3"
          onSubmit={(e) => {
            e.preventDefault()
            run(send, () => setOpen(false))
          }}
        >
          {children(done)}
          <Button type="submit" look={danger ? "danger" : "primary"} disabled={busy}>
            {button}
          </Button>
          <Refusal>{!done.field && done.refused}</Refusal>
        </form>
      </Dialog>
    </>
  )
}

export function ChangeAffiliate({
  affiliate,
  ...first
}: {
  affiliate: number
  name: string
  shown: boolean
  code: string
}) {
  const [f, set] = useState(first)
  return (
    <Ask says="Change" title="Change" button="Save" send={() => changeAffiliateAction(affiliate, f)}>
      {(done) => (
        <>
          <TextField
            label="Public name"
            value={f.name}
            onChange={(e) => set({ ...f, name: e.target.value })}
            error={done.field === "name" ? done.refused : undefined}
          />
          <TextField
            label="Code in links"
            value={f.code}
            onChange={(e) => set({ ...f, code: e.target.value })}
            error={done.field === "code" ? done.refused : undefined}
            hint="Links with the code of before go on working."
          />
          <Check checked={f.shown} onChange={(shown) => set({ ...f, shown })}>
            Visitors who come by their link read “Recommended by {f.name}”
          </Check>
        </>
      )}
    </Ask>
  )
}

export function EndAffiliate({ affiliate, name }: { affiliate: number; name: string }) {
  return (
    <Ask says="End" title={`End ${name}`} button="End" danger send={() => endAction(affiliate)}>
      {() => (
        <p>
          Nothing new counts for them from now on, and their coupons end. What they have earned is paid out all the
          same, also for instalments that are still to come of sales they made. They can be approved again later.
        </p>
      )}
    </Ask>
  )
}

export function WriteOff({ affiliate }: { affiliate: number }) {
  return (
    <div className="mt-2">
      <Ask
        says="Write off what is owed"
        title="Write off what is owed"
        button="Write it off"
        danger
        send={() => writeOffAction(affiliate)}
      >
        {() => <p>Nothing of it will be paid any more, and the books say so. This can’t be taken back.</p>}
      </Ask>
    </div>
  )
}

export function OwnRate({
  affiliate,
  offer,
  rate,
  usual,
  currency,
}: {
  affiliate: number
  offer: number
  rate: Rate | null
  usual: Rate
  currency: string
}) {
  const from = rate ?? usual
  const [own, setOwn] = useState(rate !== null)
  const [kind, setKind] = useState(from.kind)
  const [typed, setTyped] = useState(
    from.kind === "percent" ? String(from.value / 100) : decimalOf(from.value, currency),
  )
  const read = (): Rate | null => {
    if (!own) return null
    const value = kind === "percent" ? parsePercent(typed) : parseAmount(typed, currency)
    return { kind, value: value ?? Number.NaN }
  }
  return (
    <Ask
      says={rate ? `Own rate: ${rateWords(rate, currency)}` : "Own rate"}
      title="Own rate"
      button="Save"
      send={() => ownRateAction(affiliate, offer, read())}
    >
      {(done) => (
        <>
          <p className="text-soft">It holds for what is sold from now on. What was sold before keeps its rate.</p>
          <SelectField label="Rate" value={own ? "own" : "usual"} onChange={(e) => setOwn(e.target.value === "own")}>
            <option value="usual">as the programme has it, {rateWords(usual, currency)}</option>
            <option value="own">an own rate</option>
          </SelectField>
          {own ? (
            <div className="grid grid-cols-2 gap-3">
              <SelectField label="Kind" value={kind} onChange={(e) => setKind(e.target.value as Rate["kind"])}>
                <option value="percent">a percentage</option>
                <option value="amount">an amount, {currency}</option>
              </SelectField>
              <TextField
                label={kind === "percent" ? "Percentage" : `Amount, ${currency}`}
                inputMode="decimal"
                value={typed}
                onChange={(e) => setTyped(e.target.value)}
                error={done.field === "value" ? done.refused : undefined}
              />
            </div>
          ) : null}
        </>
      )}
    </Ask>
  )
}

export function JudgeBonus({ bonus, state, name }: { bonus: number; state: string; name: string }) {
  const { busy, run } = useAction()
  const judge = (approved: boolean) => run(() => judgeBonusAction(bonus, approved))
  return (
    <span className="flex items-center gap-2">
      <span className="text-soft">{{ asked: "waits for you", approved: "approved", refused: "refused" }[state]}</span>
      {state === "approved" ? null : (
        <Button disabled={busy} aria-label={`Approve “${name}”`} onClick={() => judge(true)}>
          Approve
        </Button>
      )}
      {state === "refused" ? null : (
        <Button disabled={busy} aria-label={`Refuse “${name}”`} onClick={() => judge(false)}>
          Refuse
        </Button>
      )}
    </span>
  )
}
