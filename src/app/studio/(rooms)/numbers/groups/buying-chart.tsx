"use client"

import { Chart, Filler, LinearScale, LineController, LineElement, PointElement, Tooltip } from "chart.js"
import { useEffect, useRef } from "react"
import type { SurvivalStep } from "@/core/numbers/survival"
import { locale } from "@/core/words/locale"

Chart.register(LineController, LineElement, PointElement, LinearScale, Tooltip, Filler)

const percent = new Intl.NumberFormat(locale, { style: "percent", maximumFractionDigits: 1 })

/** The share who have bought, by days after joining, with its 95 % interval; the table beside it says the same. */
export function BuyingChart({ steps }: { steps: readonly SurvivalStep[] }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (!canvas.current) return
    const look = getComputedStyle(document.documentElement)
    const colour = (name: string) => look.getPropertyValue(name).trim()
    const line = (of: (s: SurvivalStep) => number) => [{ x: 0, y: 0 }, ...steps.map((s) => ({ x: s.at, y: 1 - of(s) }))]
    const edge = { borderWidth: 1, borderDash: [3, 3], borderColor: colour("--slate"), pointRadius: 0, stepped: true }
    const chart = new Chart(canvas.current, {
      type: "line",
      data: {
        datasets: [
          { ...edge, label: "at least", data: line((s) => s.high) },
          {
            label: "have bought",
            data: line((s) => s.share),
            borderColor: colour("--slate"),
            borderWidth: 2.5,
            pointRadius: 0,
            stepped: true,
          },
          { ...edge, label: "at most", data: line((s) => s.low), fill: 0, backgroundColor: `${colour("--water")}55` },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        interaction: { mode: "nearest", axis: "x", intersect: false },
        scales: {
          x: {
            type: "linear",
            title: { display: true, text: "days after joining", color: colour("--soft") },
            grid: { display: false },
            ticks: { color: colour("--soft") },
          },
          y: {
            min: 0,
            grid: { color: colour("--line") },
            ticks: { color: colour("--soft"), maxTicksLimit: 6, callback: (v) => percent.format(Number(v)) },
          },
        },
        plugins: {
          tooltip: {
            callbacks: {
              title: ([i]) => `${i?.parsed.x} days after joining`,
              label: (i) => `${i.dataset.label}: ${percent.format(Number(i.parsed.y))}`,
            },
          },
        },
      },
    })
    return () => chart.destroy()
  }, [steps])
  return (
    <div className="h-64">
      <canvas
        ref={canvas}
        role="img"
        aria-label="The share who have bought, by days after joining; the table beside it says the same"
      />
    </div>
  )
}
