"use client"

import { type RefObject, useEffect, useState } from "react"
import type { PhoneFit } from "./describe"

/** How a page stands on a phone, looked at in a frame of that width beside the typing; null while it isn't known. */
export function usePhone(html: string, frame: RefObject<HTMLIFrameElement | null>): PhoneFit | null {
  const [fit, setFit] = useState<PhoneFit | null>(null)
  useEffect(() => {
    const f = frame.current
    if (!f) return
    const look = () => {
      const doc = f.contentDocument
      if (!doc?.body) return
      const over = doc.documentElement.scrollWidth - doc.documentElement.clientWidth
      const parts = over > 0 ? [...doc.querySelectorAll("[data-block]")] : []
      const wide = parts.findLast(
        (e) => e.scrollWidth > e.clientWidth || e.getBoundingClientRect().right > doc.documentElement.clientWidth,
      )
      setFit({ over, block: wide?.getAttribute("data-block") ?? null })
    }
    f.addEventListener("load", look)
    const timer = setTimeout(() => {
      f.srcdoc = html
    }, 600)
    return () => {
      clearTimeout(timer)
      f.removeEventListener("load", look)
    }
  }, [html, frame])
  return fit
}
