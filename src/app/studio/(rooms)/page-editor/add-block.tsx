"use client"

import { Command } from "cmdk"
import { useState } from "react"
import { blockKinds } from "@/core/page/block/list"
import type { Block, BlockKind } from "@/core/page/document"
import { Dialog } from "@/ui/dialog"

/** Nothing but the block is shown of its page. */
const alone = "<style>.head,footer{display:none!important}</style>"

/** What can be added below the chosen part: found by typing, each shown as it would look here. */
export function AddBlock({
  open,
  onOpenChange,
  below,
  kinds,
  draw,
  made,
  onAdd,
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  /** What the chosen part is called; null: none is. */
  below: string | null
  kinds: readonly BlockKind[]
  /** The whole document of a page with this block alone. */
  draw: (block: Block) => string
  /** A new one of a kind, with what the school has. */
  made: (kind: BlockKind, id: string) => Block
  onAdd: (kind: BlockKind) => void
}) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title={below ? `Add below: ${below}` : "Add"} wide returns={false}>
      <Kinds kinds={kinds} draw={draw} made={made} onAdd={onAdd} />
    </Dialog>
  )
}

function Kinds({
  kinds,
  draw,
  made,
  onAdd,
}: {
  kinds: readonly BlockKind[]
  draw: (block: Block) => string
  made: (kind: BlockKind, id: string) => Block
  onAdd: (kind: BlockKind) => void
}) {
  const [shown, setShown] = useState<string>(kinds[0] ?? "")
  const kind = kinds.find((k) => k === shown)
  return (
    <div className="grid gap-4 sm:grid-cols-[13rem_minmax(0,1fr)]">
      <Command label="What to add" value={shown} onValueChange={setShown}>
        <Command.Input
          autoFocus
          placeholder="Type what you look for"
          className="w-full rounded-md border border-line bg-card px-3 py-2"
        />
        <Command.List className="mt-2 max-h-96 overflow-auto">
          <Command.Empty className="px-2 py-1.5 text-soft">Nothing here is called that.</Command.Empty>
          {kinds.map((k) => (
            <Command.Item
              key={k}
              value={k}
              keywords={[blockKinds[k].name]}
              onSelect={() => onAdd(k)}
              className="rounded px-2 py-1.5 first-letter:uppercase data-[selected=true]:bg-paper"
            >
              {blockKinds[k].name}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
      {kind ? (
        <iframe
          title={`${blockKinds[kind].name}, as it would look here`}
          sandbox=""
          tabIndex={-1}
          srcDoc={draw(made(kind, "b1")).replace("</head>", `${alone}</head>`)}
          className="hidden h-[27rem] w-full rounded-md border border-line bg-white sm:block"
        />
      ) : null}
    </div>
  )
}
