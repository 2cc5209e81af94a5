"use client"

import {
  DndContext,
  type DragMoveEvent,
  DragOverlay,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
} from "@dnd-kit/core"
import { type KeyboardEvent, type MouseEvent, memo, type RefObject, useRef, useState } from "react"
import { blockKinds } from "@/core/page/block/list"
import type { Block, Page } from "@/core/page/document"
import type { Spot } from "@/core/page/edit"
import { spotAt } from "@/core/page/spot"
import { heldBy } from "@/core/page/walk"
import type { How } from "./use-parts"
import { useStanding } from "./use-standing"

/** As high as a tab is, in pixels: two never lie over each other. */
const tabHeight = 26

type Tab = { readonly block: Block; readonly depth: number }

function tabsOf(blocks: readonly Block[], depth = 0): Tab[] {
  return blocks.flatMap((block) => [{ block, depth }, ...tabsOf(heldBy(block) ?? [], depth + 1)])
}

/** The thin edge beside a page: a tab for each part at its height, by which it is chosen, opened and dragged. */
export function Edge({
  frame,
  page,
  chosen,
  last,
  onChoose,
  onOpen,
  onMove,
  onAdd,
}: {
  frame: RefObject<HTMLIFrameElement | null>
  page: Page
  chosen: readonly Block[]
  /** The one that was chosen last, at which the keys are. */
  last: string | null
  onChoose: (block: string, how: How) => void
  onOpen: (block: string) => void
  onMove: (block: string, to: Spot) => void
  onAdd: () => void
}) {
  const stands = useStanding(frame)
  const tabs = tabsOf(page.blocks)
  const [dragged, setDragged] = useState<{ id: string; x: number | null; y: number } | null>(null)
  const isChosen = (block: string) => chosen.some((b) => b.id === block)
  const carried = !dragged ? [] : isChosen(dragged.id) ? chosen.map((b) => b.id) : [dragged.id]
  const shown = dragged && spotAt(page.blocks, carried, dragged, stands)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }))
  const hold = useScrollAlong(frame)

  const moved = (e: DragMoveEvent) => {
    const box = frame.current?.getBoundingClientRect()
    if (!box || !(e.activatorEvent instanceof PointerEvent)) return
    const [x, y] = [e.activatorEvent.clientX + e.delta.x - box.left, e.activatorEvent.clientY + e.delta.y - box.top]
    hold(y)
    setDragged({ id: String(e.active.id), x: x < 0 ? null : x, y })
  }
  const end = (drop: boolean) => {
    hold(null)
    if (drop && dragged && shown) onMove(dragged.id, shown.spot)
    setDragged(null)
  }
  const latest = useRef({ tabs, onChoose, onOpen })
  latest.current = { tabs, onChoose, onOpen }
  // The same with each drawing, so that a tab is drawn again only where something of it is different.
  const acts = useRef<TabActs>({
    click(block, e) {
      const { onChoose, onOpen } = latest.current
      if (e.shiftKey) onChoose(block, "until")
      else if (e.ctrlKey || e.metaKey) onChoose(block, "too")
      else onOpen(block)
    },
    key(block, e) {
      const { tabs, onChoose } = latest.current
      const at = tabs.findIndex((t) => t.block.id === block)
      const to = e.key === "ArrowDown" ? tabs[at + 1] : e.key === "ArrowUp" ? tabs[at - 1] : undefined
      if (!to || e.altKey) return
      e.preventDefault()
      onChoose(to.block.id, e.shiftKey ? "until" : "alone")
      const edge = e.currentTarget.parentElement
      edge?.querySelector<HTMLElement>(`[data-tab="${to.block.id}"]`)?.focus({ preventScroll: true })
    },
  }).current
  const of = chosen.at(-1)
  const name = of && blockKinds[of.kind].name
  let below = Number.NEGATIVE_INFINITY
  const line = shown?.line
  const left = (frame.current?.offsetLeft ?? 0) + edgeWidth
  return (
    <DndContext
      sensors={sensors}
      autoScroll={false}
      accessibility={{
        screenReaderInstructions: { draggable: "Alt and the arrows move it, Enter opens it." },
        announcements,
      }}
      onDragMove={moved}
      onDragEnd={() => end(true)}
      onDragCancel={() => end(false)}
    >
      <nav
        aria-label="On this page"
        className="flex shrink-0 flex-col border-r border-line bg-paper"
        style={{ width: edgeWidth }}
      >
        <div
          className="relative min-h-0 flex-1 overflow-hidden"
          onScroll={(e) => {
            e.currentTarget.scrollTop = 0
          }}
        >
          {tabs.map(({ block, depth }, at) => {
            const top = Math.max(stands.get(block.id)?.top ?? below + 1, below)
            below = top + tabHeight
            return (
              <PartTab
                key={block.id}
                block={block}
                at={at + 1}
                of={tabs.length}
                chosen={isChosen(block.id)}
                reached={last === null ? at === 0 : block.id === last}
                top={top}
                depth={depth}
                acts={acts}
              />
            )
          })}
        </div>
        <button
          type="button"
          aria-label={`Add below ${name ?? "everything"}`}
          title="Add below the chosen part (N)"
          onClick={onAdd}
          className="min-h-11 shrink-0 border-t border-line text-note font-semibold text-slate hover:bg-card"
        >
          Add
        </button>
      </nav>
      {line ? (
        <div
          className="pointer-events-none absolute z-20 rounded bg-amber"
          style={{
            left: left + line.left,
            top: line.top,
            width: line.right - line.left,
            height: line.bottom - line.top,
          }}
        />
      ) : null}
      <DragOverlay dropAnimation={null}>
        {dragged ? (
          <Carried block={tabs.find((t) => t.block.id === dragged.id)?.block} others={carried.length - 1} />
        ) : null}
      </DragOverlay>
    </DndContext>
  )
}

export const edgeWidth = 56

/** Said by the editor itself, once it is done. */
const announcements = {
  onDragStart: () => "Picked up.",
  onDragOver: () => undefined,
  onDragEnd: () => undefined,
  onDragCancel: () => "Left where it was.",
}

type TabActs = {
  click(block: string, e: MouseEvent): void
  key(block: string, e: KeyboardEvent): void
}

const PartTab = memo(function PartTab({
  block,
  at,
  of,
  chosen,
  reached,
  top,
  depth,
  acts,
}: {
  block: Block
  at: number
  of: number
  chosen: boolean
  /** By Tab. */
  reached: boolean
  top: number
  depth: number
  acts: TabActs
}) {
  const { attributes, listeners, setNodeRef } = useDraggable({ id: block.id })
  const { name, line } = blockKinds[block.kind]
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...listeners}
      aria-describedby={attributes["aria-describedby"]}
      aria-pressed={chosen}
      aria-label={`${name}: ${line(block)}, ${at} of ${of}`}
      title={`${name}: drag it, or press it for its settings`}
      data-tab={block.id}
      tabIndex={reached ? 0 : -1}
      onPointerDown={(e) => {
        // Over the frame the pointer would be the frame's.
        e.currentTarget.setPointerCapture(e.pointerId)
        listeners?.onPointerDown?.(e)
      }}
      onClick={(e) => acts.click(block.id, e)}
      onKeyDown={(e) => acts.key(block.id, e)}
      className={`absolute flex h-6 cursor-grab touch-none items-center justify-center rounded-md text-fine whitespace-nowrap tabular-nums ${chosen ? "z-10 w-[50px] bg-amber-wash font-semibold text-amber-text ring-1 ring-amber" : "w-8 border border-line bg-card text-soft hover:border-soft hover:text-ink"}`}
      style={{ top, left: chosen ? 3 : Math.min(depth, 2) * 6 + 3 }}
    >
      {at}
    </button>
  )
})

function Carried({ block, others }: { block: Block | undefined; others: number }) {
  if (!block) return null
  const { name, line } = blockKinds[block.kind]
  return (
    <div className="w-64 cursor-grabbing truncate rounded-md border border-amber bg-card px-3 py-1.5 shadow-lg">
      <strong className="first-letter:uppercase">{name}</strong>{" "}
      <span className="text-soft">{others > 0 ? `and ${others} more` : line(block)}</span>
    </div>
  )
}

/** The page scrolls along while something is held near its upper or lower edge: takes where it is held, in pixels; null: no longer. */
function useScrollAlong(frame: RefObject<HTMLIFrameElement | null>): (y: number | null) => void {
  const held = useRef<number | null>(null)
  const step = () => {
    const [y, f] = [held.current, frame.current]
    if (y === null || !f) return
    const near = 70
    const by = y < near ? y - near : y > f.clientHeight - near ? y - f.clientHeight + near : 0
    if (by) f.contentWindow?.scrollBy(0, Math.max(-24, Math.min(24, by / 3)))
    requestAnimationFrame(step)
  }
  return (y) => {
    const begins = held.current === null && y !== null
    held.current = y
    if (begins) requestAnimationFrame(step)
  }
}
