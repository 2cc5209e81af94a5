"use client"

import { useEffect, useRef, useState } from "react"

/**
 * What the server says about something that is being typed: asked anew a moment after it was changed; what comes late is left
 * aside. `given` is the first answer, where there is one; `value` is compared by what it is, not by which object.
 */
export function useAsked<T, A>(
  value: T,
  given: A,
  ask: (value: T) => Promise<A | null>,
): { readonly answer: A; readonly asking: boolean } {
  const [answer, setAnswer] = useState(given)
  const [asking, setAsking] = useState(false)
  const key = JSON.stringify(value)
  const asked = useRef(given === null ? "" : key)
  const now = useRef({ value, ask })
  now.current = { value, ask }
  useEffect(() => {
    if (asked.current === key) return
    asked.current = key
    setAsking(true)
    const timer = setTimeout(async () => {
      const said = await now.current.ask(now.current.value).catch(() => null)
      if (asked.current !== key) return
      if (said !== null) setAnswer(said)
      setAsking(false)
    }, 300)
    return () => clearTimeout(timer)
  }, [key])
  return { answer, asking }
}
