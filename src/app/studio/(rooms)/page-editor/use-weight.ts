"use client"

import { useEffect, useState } from "react"

/** What the page weighs compressed, in bytes, worked out beside the typing. */
export function useWeight(html: string): number | null {
  const [weight, setWeight] = useState<number | null>(null)
  useEffect(() => {
    let current = true
    const timer = setTimeout(async () => {
      const packed = new Blob([html]).stream().pipeThrough(new CompressionStream("gzip"))
      const { byteLength } = await new Response(packed).arrayBuffer()
      if (current) setWeight(byteLength)
    }, 300)
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [html])
  return weight
}
