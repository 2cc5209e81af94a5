"use client"

import { type RefObject, useEffect, useState } from "react"
import type { Stands } from "@/core/page/spot"

const nowhere: ReadonlyMap<string, Stands> = new Map()

/** Where each part of a page stands, in pixels from the top left corner of its frame, as it is scrolled and written. */
export function useStanding(frame: RefObject<HTMLIFrameElement | null>): ReadonlyMap<string, Stands> {
  const [stands, setStands] = useState(nowhere)
  useEffect(() => {
    const f = frame.current
    if (!f) return
    let end = () => {}
    const begin = () => {
      end()
      const doc = f.contentDocument
      if (!doc) return
      let next = 0
      const soon = () => {
        cancelAnimationFrame(next)
        next = requestAnimationFrame(() => {
          const parts = new Map<string, Stands>()
          for (const e of doc.querySelectorAll("[data-block]")) {
            const { left, top, right, bottom } = e.getBoundingClientRect()
            if (right <= left || bottom <= top) continue
            const part = e.getAttribute("data-block")!
            const of = parts.get(part) ?? { left, top, right, bottom }
            parts.set(part, {
              left: Math.min(left, of.left),
              top: Math.min(top, of.top),
              right: Math.max(right, of.right),
              bottom: Math.max(bottom, of.bottom),
            })
          }
          setStands(parts)
        })
      }
      const written = new MutationObserver(soon)
      written.observe(doc.documentElement, { subtree: true, childList: true, characterData: true })
      const sized = new ResizeObserver(soon)
      sized.observe(doc.documentElement)
      doc.addEventListener("scroll", soon)
      // A picture that has come.
      doc.addEventListener("load", soon, true)
      soon()
      end = () => {
        cancelAnimationFrame(next)
        written.disconnect()
        sized.disconnect()
        doc.removeEventListener("scroll", soon)
        doc.removeEventListener("load", soon, true)
      }
    }
    if (f.contentDocument?.readyState === "complete") begin()
    f.addEventListener("load", begin)
    return () => {
      f.removeEventListener("load", begin)
      end()
    }
  }, [frame])
  return stands
}
