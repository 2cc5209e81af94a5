"use client"

import { blockKinds } from "@/core/page/block/list"
import type { Block } from "@/core/page/document"
import { heldBy } from "@/core/page/walk"

/** The blocks of a page by what they say, each below what holds it. */
export function BlockList({
  blocks,
  selected,
  onSelect,
}: {
  blocks: readonly Block[]
  selected: string | null
  onSelect: (id: string) => void
}) {
  return (
    <ul>
      {blocks.map((b) => (
        <li key={b.id}>
          <button
            type="button"
            aria-pressed={b.id === selected}
            onClick={() => onSelect(b.id)}
            className={`flex w-full items-baseline justify-between gap-2 rounded-md px-2 py-1 text-left text-body ${b.id === selected ? "bg-card ring-2 ring-amber" : "hover:bg-card"}`}
          >
            <span className="truncate">{blockKinds[b.kind].line(b)}</span>
            <span className="max-w-3/5 shrink-0 truncate text-fine text-soft">{blockKinds[b.kind].name}</span>
          </button>
          {heldBy(b) ? (
            <div className="ml-3 border-l border-line pl-1">
              <BlockList blocks={heldBy(b)!} selected={selected} onSelect={onSelect} />
            </div>
          ) : null}
        </li>
      ))}
    </ul>
  )
}
