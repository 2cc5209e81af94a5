"use client"

import { useId, useState } from "react"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { readCostsAction, sayCostAction } from "../actions"

/** What a source cost over some days. */
export function SayCost({
  source: given,
  sources,
  from: firstDay,
  to: lastDay,
  currency,
}: {
  source: string
  sources: readonly string[]
  from: string
  to: string
  currency: string
}) {
  const [typed, setTyped] = useState({ source: given, from: firstDay, to: lastDay, amount: "" })
  const { busy, run, answer } = useAction()
  const list = useId()
  const field = (name: keyof typeof typed, label: string, more: object = {}) => (
    <TextField
      label={label}
      value={typed[name]}
      error={answer.field === name ? answer.refused : undefined}
      onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
      {...more}
    />
  )
  return (
    <form
      aria-label="Type a cost"
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        run(
          () => sayCostAction(typed),
          () => setTyped({ ...typed, amount: "" }),
        )
      }}
    >
      <h2>Type it</h2>
      {field("source", "Source", { list, maxLength: 60 })}
      <datalist id={list}>
        {sources.map((s) => (
          <option key={s} value={s} />
        ))}
      </datalist>
      <div className="grid grid-cols-2 gap-3">
        {field("from", "First day", { type: "date" })}
        {field("to", "Last day", { type: "date" })}
      </div>
      {field("amount", `Cost in all, ${currency}`, {
        inputMode: "decimal",
        hint: "It is spread over the days evenly.",
      })}
      <Button type="submit" look="primary" disabled={busy}>
        Keep it
      </Button>
      <Refusal>{answer.field ? "" : (answer.refused ?? "")}</Refusal>
    </form>
  )
}

/** Costs from a file. */
export function CostFile() {
  const [says, setSays] = useState("")
  const { busy, run, refused } = useAction()
  return (
    <section aria-label="Costs from a file" className="space-y-3">
      <h2>Read a file</h2>
      <p className="text-soft">
        CSV with the columns date, source and amount: one source on one day a line, the date written as 2026-11-30. A
        column currency is looked at where it is there.
      </p>
      <input
        type="file"
        accept=".csv,text/csv"
        aria-label="File of costs"
        disabled={busy}
        onChange={async (e) => {
          const [file] = e.target.files ?? []
          e.target.value = ""
          if (!file) return
          setSays("")
          const text = await file.text()
          run(
            () => readCostsAction(text),
            (done) => setSays(`${done.lines} ${done.lines === 1 ? "cost is" : "costs are"} kept.`),
          )
        }}
      />
      <p role="status">{says}</p>
      <Refusal>{refused}</Refusal>
    </section>
  )
}
