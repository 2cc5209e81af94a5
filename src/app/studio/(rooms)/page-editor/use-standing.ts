"use client"

import { type RefObject, useCallback, useSyncExternalStore } from "react"
import type { Stands } from "@/core/page/spot"

type Standing = ReadonlyMap<string, Stands>
const nowhere: Standing = new Map()

/** Where each part of a page stands, in pixels from the top left corner of its frame, as it is scrolled and written. */
export function useStanding(frame: RefObject<HTMLIFrameElement | null>): Standing {
  const listen = useCallback(
    (changed: () => void) => (frame.current ? watched(frame.current).listen(changed) : () => {}),
    [frame],
  )
  return useSyncExternalStore(
    listen,
    () => (frame.current && watching.get(frame.current)?.now) ?? nowhere,
    () => nowhere,
  )
}

type Watched = { now: Standing; listen(changed: () => void): () => void }
/** Each frame is measured once, however many want to know. */
const watching = new WeakMap<HTMLIFrameElement, Watched>()

function watched(frame: HTMLIFrameElement): Watched {
  const known = watching.get(frame)
  if (known) return known
  const listeners = new Set<() => void>()
  let end = () => {}
  const begin = () => {
    end()
    const doc = frame.contentDocument
    if (!doc) return
    end = watch(doc, (parts) => {
      if (same(made.now, parts)) return
      made.now = parts
      for (const changed of listeners) changed()
    })
  }
  const made: Watched = {
    now: nowhere,
    listen(changed) {
      if (!listeners.size) {
        if (frame.contentDocument?.readyState === "complete") begin()
        frame.addEventListener("load", begin)
      }
      listeners.add(changed)
      return () => {
        listeners.delete(changed)
        if (listeners.size) return
        frame.removeEventListener("load", begin)
        end()
      }
    },
  }
  watching.set(frame, made)
  return made
}

/** Tells where each part stands, now and whenever something is written, scrolled or has come; gives how that ends. */
function watch(doc: Document, tell: (parts: Standing) => void): () => void {
  let next = 0
  const soon = () => {
    cancelAnimationFrame(next)
    next = requestAnimationFrame(() => tell(standing(doc)))
  }
  const written = new MutationObserver(soon)
  written.observe(doc.documentElement, { subtree: true, childList: true, characterData: true })
  const sized = new ResizeObserver(soon)
  sized.observe(doc.documentElement)
  doc.addEventListener("scroll", soon)
  // A picture that has come.
  doc.addEventListener("load", soon, true)
  soon()
  return () => {
    cancelAnimationFrame(next)
    written.disconnect()
    sized.disconnect()
    doc.removeEventListener("scroll", soon)
    doc.removeEventListener("load", soon, true)
  }
}

function standing(doc: Document): Standing {
  const parts = new Map<string, Stands>()
  for (const e of doc.querySelectorAll("[data-block]")) {
    const { left, top, right, bottom } = e.getBoundingClientRect()
    if (right <= left || bottom <= top) continue
    const part = e.getAttribute("data-block")!
    const of = parts.get(part)
    // A kept section stands there as all that it holds.
    parts.set(
      part,
      of
        ? {
            left: Math.min(left, of.left),
            top: Math.min(top, of.top),
            right: Math.max(right, of.right),
            bottom: Math.max(bottom, of.bottom),
          }
        : { left, top, right, bottom },
    )
  }
  return parts
}

const same = (a: Standing, b: Standing) =>
  a.size === b.size &&
  [...b].every(([part, at]) => {
    const was = a.get(part)
    return was && was.top === at.top && was.left === at.left && was.right === at.right && was.bottom === at.bottom
  })
