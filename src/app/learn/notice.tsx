"use client"

import { useEffect, useRef } from "react"
import type { Shown } from "@/server/notice/show"
import { noticeSeenAction } from "./actions"
import { NoticeCard } from "./notice-card"

/** A notice that counts once for each look in which it comes into view. */
export function Notice({ notice, className = "" }: { notice: Shown; className?: string }) {
  const at = useRef<HTMLElement>(null)
  const { id } = notice
  useEffect(() => {
    if (!at.current) return
    const watch = new IntersectionObserver((seen) => {
      if (!seen.some((x) => x.isIntersecting)) return
      watch.disconnect()
      void noticeSeenAction(id)
    })
    watch.observe(at.current)
    return () => watch.disconnect()
  }, [id])
  return (
    <aside ref={at} aria-label="Notice" className={className}>
      <NoticeCard {...notice} button={notice.button} href={`/learn/notice/${id}`} />
    </aside>
  )
}
