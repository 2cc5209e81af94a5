"use client"

import { useMemo, useState } from "react"
import { blockKinds } from "@/core/page/block/list"
import { allBlocks, type Block, type Page } from "@/core/page/document"
import { type Spot, withFreeIds } from "@/core/page/edit"
import { chosenOf, duplicateAll, insertAllAfter, moveAll, moveAllTo, removeAll } from "@/core/page/several"

/** How a part is chosen: alone, beside the others, or with all that stand between it and the last. */
export type How = "alone" | "too" | "until"

/** The parts of a page that are chosen, and what is done with them. What was done is said. */
export function useParts(page: Page, change: (page: Page) => void, say: (says: string) => void, first: string | null) {
  const [ids, setIds] = useState<readonly string[]>(first === null ? [] : [first])
  const blocks = useMemo(() => [...allBlocks(page.blocks)], [page])
  const chosen = useMemo(() => chosenOf(page, ids), [page, ids])
  const block = chosen.length === 1 ? chosen[0]! : null
  const name = block ? blockKinds[block.kind].name : `${chosen.length} parts`

  const choose = (part: string | null, how: How = "alone") => {
    if (part === null) return setIds([])
    if (how === "alone") return setIds([part])
    if (how === "too") return setIds(ids.includes(part) ? ids.filter((id) => id !== part) : [...ids, part])
    const [from, to] = [blocks.findIndex((b) => b.id === ids.at(-1)), blocks.findIndex((b) => b.id === part)]
    const between = blocks.slice(Math.min(from, to), Math.max(from, to) + 1).map((b) => b.id)
    setIds(
      from < 0 ? [part] : [...ids.filter((id) => !between.includes(id)), ...between.filter((id) => id !== part), part],
    )
  }
  const moved = (to: Page, which: readonly Block[]) => {
    if (to === page || !which.length) return
    change(to)
    const order = [...allBlocks(to.blocks)]
    const at = order.findIndex((b) => b.id === which[0]!.id) + 1
    say(`${which.length === 1 ? blockKinds[which[0]!.kind].name : `${which.length} parts`}: ${at} of ${order.length}`)
  }
  /** Puts blocks in the place of what is chosen. */
  const replace = (given: readonly Block[]) => {
    const made = withFreeIds(page, given)
    change(removeAll(insertAllAfter(page, chosen[0]?.id ?? null, made), ids))
    setIds(made.map((b) => b.id))
  }
  return {
    /** In reading order. */
    chosen,
    /** The one that is chosen; null where none is, or several. */
    block,
    /** What is chosen, in words. */
    name,
    /** Below this one something new is put. */
    below: chosen.at(-1)?.id ?? null,
    /** The one that was chosen last. */
    last: ids.at(-1) ?? null,
    choose,
    move: (way: "up" | "down") => moved(moveAll(page, ids, way), chosen),
    /** One that is dragged takes the others that are chosen along. */
    moveTo(part: string, spot: Spot) {
      const which = ids.includes(part) ? ids : [part]
      if (which !== ids) setIds(which)
      moved(moveAllTo(page, which, spot), chosenOf(page, which))
    },
    duplicate() {
      if (!chosen.length) return
      const twice = duplicateAll(page, ids)
      change(twice.page)
      setIds(twice.ids)
      say("Duplicated below.")
    },
    remove() {
      const [top] = chosen
      if (!top) return
      const gone = new Set([...allBlocks(chosen)].map((b) => b.id))
      const at = blocks.indexOf(top)
      const next = blocks.find((b, n) => n > at && !gone.has(b.id)) ?? blocks[at - 1]
      change(removeAll(page, ids))
      setIds(next ? [next.id] : [])
      say(`${name} removed.`)
    },
    replace,
    /** What is chosen is a kept section from now on. */
    keep(section: number) {
      replace([{ id: "kept", kind: "kept", section }])
      say(`${name}: kept for other pages.`)
    },
    /** Puts blocks below what is chosen; `also`: what is said besides. */
    put(given: readonly Block[], also: readonly string[] = []) {
      const made = withFreeIds(page, given)
      if (made.length) {
        change(insertAllAfter(page, chosen.at(-1)?.id ?? null, made))
        setIds(made.map((b) => b.id))
      }
      say([made.length === 1 ? "Put in below." : `${made.length} parts put in below.`, ...also].join(" "))
    },
  }
}
