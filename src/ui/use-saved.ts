"use client"

import { useCallback, useEffect, useRef, useState } from "react"

export type SaveState = "saved" | "typing" | "saving" | { readonly refused: string; readonly field?: string }

/**
 * Saves a value as it is typed: a moment after the last change, one save at a time, and at the latest when the page is
 * left. `save` gives null, or what was refused and why.
 */
export function useSaved<T>(
  value: T,
  save: (value: T) => Promise<{ refused: string; field?: string } | null>,
  pause = 500,
): SaveState {
  const [state, setState] = useState<SaveState>("saved")
  const latest = useRef(value)
  const stored = useRef(value)
  const busy = useRef(false)
  const keep = useRef(save)
  keep.current = save
  latest.current = value

  const run = useCallback(async () => {
    if (busy.current) return
    busy.current = true
    while (latest.current !== stored.current) {
      const sending = latest.current
      setState("saving")
      const refused = await keep
        .current(sending)
        .catch(() => ({ refused: "It couldn't be saved just now. It is tried again." }))
      if (refused) {
        setState(refused)
        busy.current = false
        return
      }
      stored.current = sending
    }
    busy.current = false
    setState("saved")
  }, [])

  useEffect(() => {
    if (value === stored.current) {
      // Undone before it was saved.
      if (!busy.current) setState("saved")
      return
    }
    setState((s) => (s === "saving" ? s : "typing"))
    const timer = setTimeout(run, pause)
    return () => clearTimeout(timer)
  }, [value, run, pause])

  useEffect(() => {
    if (typeof state !== "object") return
    const timer = setTimeout(run, 4_000)
    return () => clearTimeout(timer)
  }, [state, run])

  useEffect(() => {
    const leave = (e: BeforeUnloadEvent) => {
      if (latest.current === stored.current) return
      void run()
      e.preventDefault()
    }
    window.addEventListener("beforeunload", leave)
    return () => {
      window.removeEventListener("beforeunload", leave)
      if (latest.current !== stored.current) void run()
    }
  }, [run])
  return state
}

export function saveWords(state: SaveState): string {
  if (typeof state === "object") return state.refused
  return { saved: "All saved", typing: "Saving…", saving: "Saving…" }[state]
}
