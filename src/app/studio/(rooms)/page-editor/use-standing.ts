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
          const parts = [...doc.querySelectorAll("[data-block]")].flatMap((e) => {
            const { left, top, right, bottom } = e.getBoundingClientRect()
            return right > left && bottom > top
              ? [[e.getAttribute("data-block")!, { left, top, right, bottom }] as const]
              : []
          })
          setStands(new Map(parts))
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
