"use client"

import { useCallback, useEffect, useReducer, useRef, useState } from "react"
import type { Page } from "@/core/page/document"
import { mergePages } from "@/core/page/merge"
import type { PageSaved } from "@/server/page/save"
import type { PageOf } from "@/server/page/version"
import type { Refused } from "@/server/saved"
import { useSaved } from "@/ui/use-saved"
import { keepHere, letGo, takeKept } from "./kept-here"
import { useOthers } from "./use-others"

type History = {
  readonly past: readonly Page[]
  readonly page: Page
  readonly future: readonly Page[]
  readonly run: string
  /** Goes up when the page changes by anything but the fields: they begin anew then. */
  readonly turn: number
}
type Act =
  | { do: "change"; page: Page; run: string; outside?: true }
  | { do: "settle" }
  | { do: "undo" }
  | { do: "redo" }
  | { do: "back"; page: Page }

/** Keystrokes in one field are one step back; anything else is a step of its own. */
function history(h: History, a: Act): History {
  if (a.do === "change") {
    const together = a.run !== "" && a.run === h.run
    return {
      past: together ? h.past : [...h.past.slice(-199), h.page],
      page: a.page,
      future: [],
      run: a.run,
      turn: h.turn + (a.outside ? 1 : 0),
    }
  }
  // What was written on the page itself comes into the fields.
  if (a.do === "settle") return { ...h, run: "", turn: h.turn + 1 }
  if (a.do === "undo") {
    const before = h.past.at(-1)
    return before
      ? { past: h.past.slice(0, -1), page: before, future: [h.page, ...h.future], run: "", turn: h.turn + 1 }
      : h
  }
  if (a.do === "back") return { ...h, page: a.page, future: [h.page, ...h.future], run: "", turn: h.turn + 1 }
  const after = h.future[0]
  return after ? { past: [...h.past, h.page], page: after, future: h.future.slice(1), run: "", turn: h.turn + 1 } : h
}

const bothChanged = "Another window has changed the same. Choose which one stays."

type Clash = Extract<PageSaved, { clash: unknown }>

/**
 * A page that is being edited: its steps back and forth, kept as it is typed, and merged with what another window makes of it. `earlier`: the
 * versions of the server, by which undo goes on behind where the editor was opened.
 */
export function usePage(
  whose: PageOf,
  given: Page,
  revision: number,
  store: (revision: number, page: Page, base: Page) => Promise<PageSaved>,
  earlier: (before: number | null, now: Page) => Promise<{ readonly id: number; readonly page: Page } | Refused | null>,
) {
  const [h, act] = useReducer(history, { past: [], page: given, future: [], run: "", turn: 0 })
  const { page } = h
  /** What stood when last heard of: its revision, and the page. */
  const known = useRef({ revision, page: given })
  const latest = useRef(page)
  latest.current = page
  const of = useRef(whose)
  const [clash, setClash] = useState<Clash | null>(null)
  /** The version that undo came to, behind where the editor was opened; "none": there is none before it. */
  const [reached, setReached] = useState<number | null | "none">(null)

  /** Another window's page comes in below what was changed here since `sent`. */
  const takeIn = useCallback((revision: number, stored: Page, sent: Page) => {
    known.current = { revision, page: stored }
    act({ do: "change", page: mergePages(sent, latest.current, stored).merged, run: "", outside: true })
  }, [])
  /** A clash with what was kept in this browser: nothing is saved until it is settled. */
  const held = useRef(false)
  const save = useCallback(
    async (value: Page) => {
      if (value === known.current.page) return null
      if (held.current) return { refused: bothChanged }
      const done = await store(known.current.revision, value, known.current.page)
      if ("refused" in done) return done
      if ("clash" in done) {
        setClash(done)
        return { refused: bothChanged }
      }
      setClash(null)
      if (done.page) takeIn(done.revision, done.page, value)
      else known.current = { revision: done.revision, page: value }
      if (latest.current === value) letGo(of.current)
      return null
    },
    [store, takeIn],
  )
  const saved = useSaved(page, save)
  /** Whether something came back that was typed in this browser before and hadn't been saved. */
  const [cameBack, setCameBack] = useState(false)
  useEffect(() => {
    for (const kept of takeKept(of.current)) {
      const { merged, clashes } = mergePages(kept.base, kept.page, latest.current)
      if (JSON.stringify(merged) === JSON.stringify(latest.current)) continue
      if (clashes.length) {
        held.current = true
        setClash({ clash: clashes, theirs: known.current.page, revision: known.current.revision })
      }
      latest.current = merged
      act({ do: "change", page: merged, run: "", outside: true })
      setCameBack(true)
    }
  }, [])
  useEffect(() => {
    if (page === known.current.page) return letGo(of.current)
    const keep = () => {
      if (page !== known.current.page) keepHere(of.current, { base: known.current.page, page })
    }
    const timer = setTimeout(keep, 200)
    window.addEventListener("pagehide", keep)
    return () => {
      clearTimeout(timer)
      window.removeEventListener("pagehide", keep)
    }
  }, [page])
  /** What is saved comes in, where nothing of it clashes; what does is told when this window saves. */
  const hear = useCallback(
    (now: { readonly revision: number; readonly page: Page }) => {
      if (now.revision <= known.current.revision || held.current) return
      if (!mergePages(known.current.page, latest.current, now.page).clashes.length)
        takeIn(now.revision, now.page, known.current.page)
    },
    [takeIn],
  )
  // After Back, or when another act has changed it.
  useEffect(() => hear({ revision, page: given }), [revision, given, hear])
  const others = useOthers(whose, () => known.current.revision, hear)

  return {
    page,
    turn: h.turn,
    /** The page as it stands now, also for what was begun before. */
    latest,
    saved,
    clash,
    canUndo: h.past.length > 0 || reached !== "none",
    canRedo: h.future.length > 0,
    /** `run` names what is being typed: one step back. `outside`: by anything but the fields, which begin anew. */
    change: (page: Page, run = "", outside = false) =>
      act({ do: "change", page, run, ...(outside ? { outside: true } : {}) }),
    settleTyping: () => act({ do: "settle" }),
    /** Gives what is to be said of it: why it went no further back. */
    async undo(): Promise<string> {
      const version = h.past.length || reached === "none" ? undefined : await earlier(reached, latest.current)
      if (version === undefined) act({ do: "undo" })
      else if (version === null || "refused" in version) setReached("none")
      else {
        setReached(version.id)
        act({ do: "back", page: version.page })
      }
      return version && "refused" in version ? version.refused : ""
    },
    redo: () => act({ do: "redo" }),
    settle: (whose: "mine" | "theirs") => {
      if (!clash) return
      known.current = { revision: clash.revision, page: clash.theirs }
      act({ do: "change", page: whose === "theirs" ? clash.theirs : { ...page }, run: "", outside: true })
      setClash(null)
      held.current = false
    },
    cameBack,
    /** Who else has it open, in words. */
    others,
  }
}
