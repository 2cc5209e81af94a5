"use client"

import { useCallback, useEffect, useRef, useState } from "react"
import { type SaveState, useSaved } from "./use-saved"

export type Versioned<T> = { readonly revision: number; readonly value: T }

/** What a save comes to: what stands there now, what was refused, or what another window changed, too. */
export type SharedAnswer<T> =
  | Versioned<T>
  | { readonly refused: string; readonly field?: string }
  | { readonly clash: readonly string[]; readonly theirs: T; readonly revision: number }

export type Clashing<T> = {
  readonly fields: readonly string[]
  readonly theirs: T
  /** Mine is written over what the other window wrote, or gives way to it. */
  settle(whose: "mine" | "theirs"): void
}

export type Shared<T> = {
  readonly value: T
  set(change: T | ((now: T) => T)): void
  readonly saved: SaveState
  readonly clash: Clashing<T> | null
  /** Goes up when another window's words came in, for what keeps its own copy. */
  readonly turn: number
}

/**
 * A thing with fields that is saved as it is typed and may be open in two windows: what the other one has changed comes in,
 * field by field, and a field that both changed is shown, not decided. `given` is what the server had when the page was made;
 * a newer one (after Back, or after another act) is taken in, too.
 */
export function useShared<T extends object>(
  given: Versioned<T>,
  save: (value: T, before: Versioned<T>) => Promise<SharedAnswer<T>>,
): Shared<T> {
  const [value, setValue] = useState(given.value)
  const [clash, setClash] = useState<{ fields: readonly string[]; theirs: T; revision: number } | null>(null)
  const [turn, setTurn] = useState(0)
  /** What the server had when last heard of, and the same as it stood here, which may differ in spaces and the like. */
  const known = useRef(given)
  const here = useRef(given.value)
  const now = useRef(value)
  now.current = value

  /** Takes in what the server has in fields that another window has changed and nobody here has, since `sent`. */
  const takeIn = useCallback((stored: Versioned<T>, sent: T) => {
    const foreign = keysOf(sent).filter(
      (f) => same(sent[f], here.current[f]) && !same(stored.value[f], known.current.value[f]),
    )
    const taken = pick(stored.value, foreign)
    known.current = stored
    here.current = { ...sent, ...taken }
    const untouched = pick(
      stored.value,
      foreign.filter((f) => same(now.current[f], sent[f])),
    )
    if (!Object.keys(untouched).length) return
    setValue((v) => ({ ...v, ...untouched }))
    setTurn((n) => n + 1)
  }, [])

  const saved = useSaved(value, async (sending) => {
    const mine = keysOf(sending).filter((f) => !same(sending[f], here.current[f]))
    if (!mine.length) return null
    const before = { revision: known.current.revision, value: { ...sending, ...pick(known.current.value, mine) } }
    const answer = await save(sending, before)
    if ("refused" in answer) return answer
    if ("clash" in answer) {
      setClash({ fields: answer.clash, theirs: answer.theirs, revision: answer.revision })
      return { refused: "Another window has changed the same. Choose which one stays.", field: answer.clash[0] }
    }
    setClash(null)
    takeIn(answer, sending)
    return null
  })

  useEffect(() => {
    if (given.revision <= known.current.revision) return
    const theirs = keysOf(given.value).filter((f) => !same(given.value[f], known.current.value[f]))
    // What both changed is told when it is saved.
    if (theirs.every((f) => same(now.current[f], here.current[f]))) takeIn(given, now.current)
  }, [given, takeIn])

  return {
    value,
    set: setValue,
    saved,
    turn,
    clash: clash && {
      fields: clash.fields,
      theirs: clash.theirs,
      settle(whose) {
        known.current = { revision: clash.revision, value: clash.theirs }
        const theirs = pick(clash.theirs, clash.fields as (keyof T & string)[])
        here.current = { ...here.current, ...theirs }
        setValue((v) => (whose === "theirs" ? { ...v, ...theirs } : { ...v }))
        setTurn((n) => n + 1)
        setClash(null)
      },
    },
  }
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
const keysOf = <T extends object>(value: T) => Object.keys(value) as (keyof T & string)[]
const pick = <T extends object>(value: T, fields: readonly (keyof T & string)[]) =>
  Object.fromEntries(fields.map((f) => [f, value[f]])) as Partial<T>
