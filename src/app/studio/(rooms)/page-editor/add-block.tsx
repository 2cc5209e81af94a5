"use client"

import { Command } from "cmdk"
import { useState } from "react"
import type { Block } from "@/core/page/document"
import { Dialog } from "@/ui/dialog"

/** Nothing but the block is shown of its page. */
export const alone = "<style>.head,footer{display:none!important}</style>"

/** What can be added: a kind of block, or a section that is kept. */
export type Addable = {
  readonly key: string
  readonly name: string
  /** A new one, with what the school has. */
  make(id: string): Block
}

/** What can be added below the chosen part: found by typing, each shown as it would look here. */
export function AddBlock({
  open,
  onOpenChange,
  below,
  ...rest
}: {
  open: boolean
  onOpenChange: (open: boolean) => void
  /** What the chosen part is called; null: none is. */
  below: string | null
} & Choosing) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title={below ? `Add below: ${below}` : "Add"} wide returns={false}>
      <Choose {...rest} />
    </Dialog>
  )
}

type Choosing = {
  readonly all: readonly Addable[]
  /** The whole document of a page with this block alone. */
  draw(block: Block): string
  onAdd(chosen: Addable): void
}

function Choose({ all, draw, onAdd }: Choosing) {
  const [shown, setShown] = useState<string>(all[0]?.key ?? "")
  const chosen = all.find((a) => a.key === shown)
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
          {all.map((a) => (
            <Command.Item
              key={a.key}
              value={a.key}
              keywords={[a.name]}
              onSelect={() => onAdd(a)}
              className="rounded px-2 py-1.5 [overflow-wrap:anywhere] first-letter:uppercase data-[selected=true]:bg-paper"
            >
              {a.name}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
      {chosen ? (
        <iframe
          title={`${chosen.name}, as it would look here`}
          sandbox=""
          tabIndex={-1}
          srcDoc={draw(chosen.make("b1")).replace("</head>", `${alone}</head>`)}
          className="hidden h-[27rem] w-full rounded-md border border-line bg-white sm:block"
        />
      ) : null}
    </div>
  )
}
