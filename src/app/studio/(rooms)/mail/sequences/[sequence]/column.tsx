"use client"

import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core"
import { DropdownMenu } from "radix-ui"
import { type KeyboardEvent, useEffect, useRef, useState } from "react"
import type { SequenceLetter } from "@/core/sequence/document"
import { allSteps, type Spot, type Steps, spotBeside } from "@/core/sequence/flow"
import { mailOf, type SequenceStep, type SequenceStepKind, sequenceStepKinds, sidesOf } from "@/core/sequence/step/list"
import { locale } from "@/core/words/locale"
import { KeysDialog } from "@/ui/keys-dialog"

const keys = [
  ["N", "a new step below"],
  ["↑ ↓", "go to the step above or below"],
  ["Alt ↑ ↓", "move it"],
  ["Ctrl D", "duplicate"],
  ["Delete", "take it out"],
  ["Ctrl Z", "undo; with Shift: redo"],
] as const

type Props = {
  readonly steps: Steps
  readonly letters: readonly SequenceLetter[]
  readonly says: Readonly<Record<number, string>>
  readonly places: Readonly<Record<number, number>>
  readonly chosen: number | null
  readonly onChoose: (step: number) => void
  readonly onAdd: (spot: Spot, kind: SequenceStepKind) => void
  readonly onMove: (step: number, spot: Spot) => void
  readonly onDuplicate: (step: SequenceStep) => void
  readonly onRemove: (step: number) => void
  readonly onUndo: (way: "before" | "after") => void
}

const spotKey = (spot: Spot) =>
  "after" in spot ? `after:${spot.after}` : `first:${spot.first ?? ""}:${"side" in spot ? spot.side : ""}`
function spotOf(key: string): Spot {
  const [where, id, side] = key.split(":")
  if (where === "after") return { after: Number(id) }
  return id ? { first: Number(id), side: side as "yes" } : { first: null }
}

/** The steps from top to bottom; both sides of a split below one another. */
export function Column(p: Props) {
  const list = useRef<HTMLElement>(null)
  const [help, setHelp] = useState(false)
  const [adding, setAdding] = useState<string | null>(null)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const all = allSteps(p.steps)
  const typed = useRef(false)

  // Where a key has gone to, the focus follows.
  useEffect(() => {
    if (!typed.current) return
    typed.current = false
    list.current?.querySelector<HTMLElement>(`[data-step="${p.chosen}"]`)?.focus()
  }, [p.chosen])

  function onKey(e: KeyboardEvent) {
    const on = (e.target as HTMLElement).closest<HTMLElement>("[data-step]")
    const id = Number(on?.dataset.step)
    const at = all.findIndex((s) => s.id === id)
    const step = all[at]
    if (!on || !step) return
    const ctrl = e.ctrlKey || e.metaKey
    const way = e.key === "ArrowUp" ? "up" : e.key === "ArrowDown" ? "down" : null
    if (way) {
      e.preventDefault()
      if (e.altKey) {
        const spot = spotBeside(p.steps, id, way)
        if (spot) p.onMove(id, spot)
        return
      }
      const to = all[at + (way === "up" ? -1 : 1)]
      if (!to) return
      typed.current = true
      p.onChoose(to.id)
    } else if (ctrl && e.key.toLowerCase() === "d") {
      e.preventDefault()
      p.onDuplicate(step)
    } else if (ctrl && e.key.toLowerCase() === "z") {
      e.preventDefault()
      p.onUndo(e.shiftKey ? "after" : "before")
    } else if (e.key === "Delete" || e.key === "Backspace") {
      e.preventDefault()
      typed.current = true
      p.onRemove(id)
    } else if (!ctrl && e.key.toLowerCase() === "n") {
      e.preventDefault()
      setAdding(spotKey({ after: id }))
    }
  }

  function onDragEnd(e: DragEndEvent) {
    if (e.over) p.onMove(Number(String(e.active.id)), spotOf(String(e.over.id)))
  }

  return (
    <section ref={list} aria-label="The steps" onKeyDown={onKey} className="min-w-0">
      <DndContext sensors={sensors} onDragEnd={onDragEnd}>
        <List {...p} of={p.steps} first={{ first: null }} adding={adding} setAdding={setAdding} />
      </DndContext>
      <p className="mt-2 text-label text-soft">
        Keys: N, ↑ ↓, Alt ↑ ↓, Delete.{" "}
        <button type="button" className="underline" onClick={() => setHelp(true)}>
          All keys
        </button>
      </p>
      <KeysDialog keys={keys} open={help} onOpenChange={setHelp} />
    </section>
  )
}

type ListProps = Props & {
  readonly of: Steps
  readonly first: Spot
  readonly adding: string | null
  readonly setAdding: (key: string | null) => void
}

function List({ of, first, ...p }: ListProps) {
  return (
    <ol>
      <li>
        <Gap spot={first} {...p} always={of.length === 0} />
      </li>
      {of.map((step) => (
        <li key={step.id}>
          <Row step={step} {...p} />
          {sidesOf(step).map(({ side, steps }) => (
            <section
              key={side}
              aria-label={side === "yes" ? "Yes" : "No"}
              className={`ml-4 border-l-2 pl-3 ${side === "yes" ? "border-slate" : "border-amber"}`}
            >
              <p className="pt-1 text-label font-semibold">{side === "yes" ? "Yes" : "No"}</p>
              <List {...p} of={steps} first={{ first: step.id, side }} />
            </section>
          ))}
          <Gap spot={{ after: step.id }} {...p} always={of.at(-1) === step} />
        </li>
      ))}
    </ol>
  )
}

function Row({
  step,
  letters,
  says,
  places,
  chosen,
  onChoose,
}: Omit<ListProps, "of" | "first"> & { step: SequenceStep }) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({ id: step.id })
  const mail = letters.find((m) => m.id === mailOf(step))
  const people = places[step.id] ?? 0
  const words = mail
    ? mail.subject || "An e-mail without a subject yet"
    : (says[step.id] ?? sequenceStepKinds[step.kind].label)
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      data-step={step.id}
      aria-current={chosen === step.id ? "true" : undefined}
      onClick={() => onChoose(step.id)}
      style={transform ? { transform: `translateY(${transform.y}px)`, zIndex: 20, position: "relative" } : undefined}
      className={`flex min-h-10 w-full touch-manipulation items-baseline gap-2 rounded-md border px-3 py-1.5 text-left ${chosen === step.id ? "border-slate bg-card shadow-sm" : "border-line bg-card/60 hover:border-soft"} ${isDragging ? "opacity-80" : ""}`}
    >
      <span className={`min-w-0 flex-1 [overflow-wrap:anywhere] ${mail ? "font-semibold" : ""}`}>
        {mail ? <span className="font-normal text-soft">Send </span> : null}
        {words}
      </span>
      {people ? (
        <span className="text-label whitespace-nowrap text-soft tabular-nums">
          {people.toLocaleString(locale)} {people === 1 ? "is" : "are"} here
        </span>
      ) : null}
    </button>
  )
}

/** Between two steps: where one can be put in or dropped. */
function Gap({
  spot,
  adding,
  setAdding,
  onAdd,
  always,
}: Pick<ListProps, "adding" | "setAdding" | "onAdd"> & { spot: Spot; always: boolean }) {
  const key = spotKey(spot)
  const { setNodeRef, isOver } = useDroppable({ id: key })
  return (
    <div ref={setNodeRef} className={`flex min-h-7 items-center justify-center ${isOver ? "rounded bg-slate/20" : ""}`}>
      <DropdownMenu.Root open={adding === key} onOpenChange={(open) => setAdding(open ? key : null)}>
        <DropdownMenu.Trigger
          aria-label="Add a step here"
          className={`min-h-7 rounded px-2 text-label text-slate hover:underline ${always ? "my-1 min-h-9 border border-line bg-card font-semibold" : "opacity-0 hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100"}`}
        >
          {always ? "+ Add a step" : "+"}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className="z-30 rounded-lg border border-line bg-card p-1 shadow-lg">
            {(Object.keys(sequenceStepKinds) as SequenceStepKind[]).map((kind) => (
              <DropdownMenu.Item
                key={kind}
                onSelect={() => onAdd(spot, kind)}
                className="cursor-default rounded px-3 py-1.5 outline-none data-[highlighted]:bg-slate data-[highlighted]:text-on-slate"
              >
                {sequenceStepKinds[kind].label}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  )
}
