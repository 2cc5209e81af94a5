"use client"

import { useCallback, useEffect, useState } from "react"

const fresh = () =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("")

/** A key for what is about to be made, and what gives the next thing another one. */
export function useOnce(): readonly [string, () => void] {
  const [key, setKey] = useState("")
  const renew = useCallback(() => setKey(fresh()), [])
  useEffect(renew, [renew])
  return [key, renew]
}

/** The same as a part of a form; `told` is what came of the last press: once something was made, the next has a key of its own. */
export function OnceField({ told }: { told: { readonly refused?: string } }) {
  const [key, renew] = useOnce()
  useEffect(() => {
    if (!told.refused) renew()
  }, [told, renew])
  return <input type="hidden" name="once" value={key} />
}
