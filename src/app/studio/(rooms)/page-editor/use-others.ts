"use client"

import { useEffect, useRef, useState } from "react"
import type { Page } from "@/core/page/document"
import type { PageOf } from "@/server/page/version"
import { lookInAction } from "./actions"
import { thisWindow } from "./kept-here"

/** How often it is looked, ms: while nobody else has it open, and while somebody has. */
const [alone, together] = [1_500, 300]

/** Who else has a page open, in words. What another window saves is handed on as soon as it is heard of, while this one is looked at. */
export function useOthers(
  of: PageOf,
  known: () => number,
  heard: (now: { readonly revision: number; readonly page: Page }) => void,
): string {
  const [others, setOthers] = useState("")
  const latest = useRef({ of, known, heard })
  latest.current = { of, known, heard }
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>
    let ended = false
    let every: number = alone
    const look = async () => {
      const asked = latest.current.known()
      const found =
        document.visibilityState === "visible"
          ? await lookInAction(latest.current.of, thisWindow(), asked).catch(() => null)
          : null
      if (ended) return
      if (found) {
        const [first] = found.others
        every = first ? together : alone
        const who =
          first && (first.me ? "You have this page open in another window" : `${first.who} has this page open, too`)
        setOthers(first ? `${who}, since ${first.since}.` : "")
        // What was saved here meanwhile is later than what was asked for.
        if (found.now && asked === latest.current.known()) latest.current.heard(found.now)
      }
      timer = setTimeout(look, every)
    }
    void look()
    return () => {
      ended = true
      clearTimeout(timer)
    }
  }, [])
  return others
}
