"use client"

import { CategoryScale, Chart, Filler, LinearScale, LineController, LineElement, PointElement, Tooltip } from "chart.js"
import { useEffect, useRef } from "react"
import { moneyRound } from "@/core/offer/money"
import type { DayOver } from "@/server/numbers/days-view"
import { isOutside, nameOfDay } from "./day"

Chart.register(LineController, LineElement, PointElement, CategoryScale, LinearScale, Tooltip, Filler)

/** What each day kept, over the band of its forecast; days outside it are ringed. A table beside it says the same. */
export function DaysChart({ days, currency }: { days: readonly DayOver[]; currency: string }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (!canvas.current) return
    const look = getComputedStyle(document.documentElement)
    const colour = (name: string) => look.getPropertyValue(name).trim()
    const edge = { borderWidth: 0, pointRadius: 0, pointHitRadius: 0 }
    const chart = new Chart(canvas.current, {
      type: "line",
      data: {
        labels: days.map((d) => nameOfDay(d.day)),
        datasets: [
          { ...edge, label: "at least", data: days.map((d) => d.band?.low ?? null) },
          {
            ...edge,
            label: "at most",
            data: days.map((d) => d.band?.high ?? null),
            fill: 0,
            backgroundColor: `${colour("--reed")}33`,
          },
          {
            label: "forecast",
            data: days.map((d) => d.band?.mean ?? null),
            borderColor: colour("--reed"),
            borderDash: [5, 4],
            borderWidth: 2,
            pointRadius: 0,
          },
          {
            label: "came",
            data: days.map((d) => d.kept),
            borderColor: colour("--slate"),
            borderWidth: 2.5,
            pointRadius: days.map((d) => (isOutside(d) ? 5 : 0)),
            pointBorderColor: colour("--amber"),
            pointBorderWidth: 2,
            pointBackgroundColor: colour("--card"),
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        interaction: { mode: "index", intersect: false },
        scales: {
          x: { grid: { display: false }, ticks: { color: colour("--soft"), maxTicksLimit: 9, maxRotation: 0 } },
          y: {
            grid: { color: colour("--line") },
            ticks: { color: colour("--soft"), maxTicksLimit: 5, callback: (v) => moneyRound(Number(v), currency) },
          },
        },
        plugins: {
          tooltip: {
            callbacks: { label: (i) => `${i.dataset.label}: ${moneyRound(Number(i.parsed.y), currency)}` },
          },
        },
      },
    })
    return () => chart.destroy()
  }, [days, currency])
  return (
    <div className="h-56">
      <canvas ref={canvas} role="img" aria-label="What each day kept, over its forecast; the table says the same" />
    </div>
  )
}
