"use client"

import { useId, useState } from "react"
import { Button } from "@/ui/button"
import { TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { callSourceAction, readCostsAction, sayCostAction } from "../actions"

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

/** A source that is counted under another name: one that was misspelt, or two that are one. */
export function CallSource({
  sources,
  called,
}: {
  sources: readonly string[]
  called: readonly (readonly [source: string, called: string])[]
}) {
  const nothing = { source: "", called: "" }
  const [typed, setTyped] = useState(nothing)
  const { busy, run, answer } = useAction()
  const list = useId()
  const field = (name: keyof typeof typed, label: string) => (
    <TextField
      label={label}
      list={list}
      maxLength={60}
      value={typed[name]}
      error={answer.field === name ? answer.refused : undefined}
      onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
    />
  )
  return (
    <form
      aria-label="Rename a source"
      className="space-y-3"
      onSubmit={(e) => {
        e.preventDefault()
        run(
          () => callSourceAction(typed),
          () => setTyped(nothing),
        )
      }}
    >
      <h2>Rename a source</h2>
      <datalist id={list}>
        {sources.map((s) => (
          <option key={s} value={s} />
        ))}
      </datalist>
      <div className="grid grid-cols-2 gap-3">
        {field("source", "Source")}
        {field("called", "New name")}
      </div>
      <Button type="submit" disabled={busy}>
        Rename
      </Button>
      <p className="text-note text-soft">
        Links stay as they are. What was counted and typed under the old name goes along; two with one name are added
        up.
      </p>
      <ul className="space-y-1">
        {called.map(([source, name]) => (
          <li key={source} className="flex flex-wrap items-baseline gap-x-3">
            <span>
              <bdi>{source}</bdi> is counted as <bdi className="font-semibold">{name}</bdi>
            </span>
            <Button
              look="quiet"
              disabled={busy}
              onClick={() => run(() => callSourceAction({ source, called: source }))}
            >
              Take it back
            </Button>
          </li>
        ))}
      </ul>
      <Refusal>{answer.field ? "" : (answer.refused ?? "")}</Refusal>
    </form>
  )
}
