"use client"

import { useRouter } from "next/navigation"
import { useEffect } from "react"

/** Back and forward show what is saved, not the copy that the browser kept of the page. */
export function FreshOnBack() {
  const router = useRouter()
  useEffect(() => {
    const refresh = () => setTimeout(() => router.refresh(), 0)
    const restored = (e: PageTransitionEvent) => e.persisted && refresh()
    window.addEventListener("popstate", refresh)
    window.addEventListener("pageshow", restored)
    return () => {
      window.removeEventListener("popstate", refresh)
      window.removeEventListener("pageshow", restored)
    }
  }, [router])
  return null
}
