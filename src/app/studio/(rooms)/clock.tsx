"use client"

import { useRouter } from "next/navigation"
import { DropdownMenu } from "radix-ui"
import { useEffect, useState, useTransition } from "react"
import { locale } from "@/core/words/locale"
import { schoolNow, setSchoolTime } from "../school-time"
import { moveClockAction } from "./clock-action"

/** Business time in the bar. In the demo it is a button that moves it on. */
export function Clock({ now, zone, movable }: { now: number; zone: string; movable: boolean }) {
  const [shown, setShown] = useState(now)
  const [moving, start] = useTransition()
  const [said, setSaid] = useState("")
  const router = useRouter()
  useEffect(() => {
    setSchoolTime(now, zone)
    setShown(now)
    const timer = setInterval(() => setShown(schoolNow()), 1_000)
    return () => clearInterval(timer)
  }, [now, zone])
  const text = new Intl.DateTimeFormat(locale, {
    weekday: "short",
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    timeZone: zone,
  })
    .format(shown)
    .replace(",", "")
  if (!movable)
    return (
      <time suppressHydrationWarning className="text-body whitespace-nowrap tabular-nums">
        {text}
      </time>
    )
  const move = (way: "next" | "hour" | "day") =>
    start(async () => {
      const done = await moveClockAction(way)
      setSchoolTime(done.now, zone)
      setShown(done.now)
      setSaid(done.says)
      router.refresh()
    })
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          className="rounded px-1 text-body whitespace-nowrap text-[#f0b978] tabular-nums hover:underline"
          aria-label={`The clock: ${text}. Move it on`}
        >
          <span suppressHydrationWarning>{moving ? "moving on…" : text}</span>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            sideOffset={6}
            className="z-50 w-64 rounded-md border border-line bg-card p-1 text-ink shadow-lg"
          >
            <DropdownMenu.Label className="px-2 py-1 text-fine text-soft">
              Move the demo's clock on. What is due happens, in order.
            </DropdownMenu.Label>
            {(
              [
                ["next", "To the next thing due"],
                ["hour", "An hour"],
                ["day", "A day"],
              ] as const
            ).map(([way, says]) => (
              <DropdownMenu.Item
                key={way}
                onSelect={() => move(way)}
                className="cursor-pointer rounded px-2 py-1.5 data-[highlighted]:bg-paper"
              >
                {says}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <span role="status" className="sr-only">
        {said}
      </span>
    </>
  )
}
