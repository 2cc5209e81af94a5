"use client"

import { useEffect, useRef, useState } from "react"
import type { Worn } from "@/core/look/look"

/** A page in a look, at its true width and drawn smaller. */
export function Drawn({
  step,
  worn,
  width,
  height,
  name,
}: {
  step: number
  worn: Worn
  /** In CSS pixels of the page. */
  width: number
  height: number
  name: string
}) {
  const box = useRef<HTMLDivElement>(null)
  const [scale, setScale] = useState(0)
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setScale((entry?.contentRect.width ?? 0) / width))
    if (box.current) watch.observe(box.current)
    return () => watch.disconnect()
  }, [width])
  return (
    <div
      ref={box}
      className="relative overflow-hidden rounded-md border border-line bg-white"
      style={{ aspectRatio: `${width} / ${height}` }}
    >
      {step && scale ? (
        <iframe
          title={name}
          tabIndex={-1}
          loading="lazy"
          sandbox=""
          src={`/studio/settings/look/drawn?step=${step}&worn=${encodeURIComponent(JSON.stringify(worn))}`}
          className="pointer-events-none absolute top-0 left-0 origin-top-left border-0"
          style={{ width, height, transform: `scale(${scale})` }}
        />
      ) : null}
    </div>
  )
}
