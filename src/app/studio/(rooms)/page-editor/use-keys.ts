"use client"

import { useEffect, useRef } from "react"

export const editorKeys = [
  ["N", "add below; so does / in an empty text"],
  ["↑  ↓", "the part before, the part after, at the edge"],
  ["Shift ↑  Shift ↓", "choose several"],
  ["Enter", "its settings"],
  ["E", "write in it"],
  ["Escape", "out of it"],
  ["Alt ↑  Alt ↓", "move"],
  ["Ctrl D", "duplicate"],
  ["Ctrl C  X  V", "copy, cut, paste: here, or on another page"],
  ["Delete", "remove"],
  ["[  ]", "the page before, the page after"],
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z", "redo"],
] as const

export type Acts = {
  undo(): void
  redo(): void
  move(way: "up" | "down"): void
  duplicate(): void
  add(): void
  /** Begins writing in what is chosen. */
  write(): void
  remove(): void
  /** To the page before (−1) or after. */
  walk(by: -1 | 1): void
  /** Shows the keys. */
  help(): void
}

/** The keys of the editor, in its window; gives the same for a document that stands in a frame. */
export function useKeys(acts: Acts): { readonly current: (e: KeyboardEvent) => void } {
  const pressed = useRef((_: KeyboardEvent) => {})
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const at = e.target as HTMLElement
      const typing = at.closest("input, select, textarea, [contenteditable]")
      const command = e.ctrlKey || e.metaKey
      const letter = e.key.toLowerCase()
      const act = (done: () => void) => {
        e.preventDefault()
        done()
      }
      if (command && letter === "z" && !at.closest("[contenteditable]:not([data-says])"))
        act(e.shiftKey ? acts.redo : acts.undo)
      else if (e.altKey && (e.key === "ArrowUp" || e.key === "ArrowDown") && !at.closest("select"))
        act(() => acts.move(e.key === "ArrowUp" ? "up" : "down"))
      else if (command && letter === "d" && !typing) act(acts.duplicate)
      else if (typing || command || e.altKey || at.closest("[role=dialog]")) return
      else if (e.key === "n") act(acts.add)
      else if (e.key === "e") act(acts.write)
      else if (e.key === "[") acts.walk(-1)
      else if (e.key === "]") acts.walk(1)
      else if (e.key === "?") acts.help()
      else if (e.key === "Delete") acts.remove()
    }
    pressed.current = key
    window.addEventListener("keydown", key)
    return () => window.removeEventListener("keydown", key)
  })
  return pressed
}
