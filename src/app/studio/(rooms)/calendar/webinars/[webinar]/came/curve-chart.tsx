"use client"

import {
  CategoryScale,
  Chart,
  Filler,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  type Plugin,
  PointElement,
  Tooltip,
} from "chart.js"
import { useEffect, useRef } from "react"

Chart.register(LineController, LineElement, PointElement, CategoryScale, LinearScale, Tooltip, Legend, Filler)

/** Something that happened in a minute of it. */
export type Mark = { readonly minute: number; readonly says: string; readonly of: "offer" | "poll" | "drop" }

/** Who was there, minute by minute: one date, or the mean of several with each of them faint behind it. */
export function CurveChart({
  main,
  behind,
  marks,
}: {
  main: readonly number[]
  behind: readonly { readonly name: string; readonly curve: readonly number[] }[]
  marks: readonly Mark[]
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (!canvas.current) return
    const look = getComputedStyle(document.documentElement)
    const colour = (name: string) => look.getPropertyValue(name).trim()
    const marked: Plugin<"line"> = {
      id: "marks",
      afterDatasetsDraw({ ctx, chartArea, scales }) {
        const x = scales.x!
        ctx.save()
        ctx.font = "12px 'Public Sans Variable', sans-serif"
        const rows: number[] = []
        for (const m of [...marks].sort((a, b) => a.minute - b.minute)) {
          const at = x.getPixelForValue(m.minute)
          ctx.strokeStyle = ctx.fillStyle = colour(m.of === "offer" ? "--reed" : m.of === "drop" ? "--dusk" : "--slate")
          ctx.setLineDash(m.of === "drop" ? [2, 3] : [])
          ctx.beginPath()
          ctx.moveTo(at, chartArea.top)
          ctx.lineTo(at, chartArea.bottom)
          ctx.stroke()
          const wide = ctx.measureText(m.says).width + 10
          const left = at + wide > chartArea.right ? at - wide : at
          // Words that would lie over each other go one row further down.
          let row = rows.findIndex((end) => end < left)
          if (row < 0) row = rows.length
          rows[row] = left + wide
          ctx.fillText(m.says, left + 4, chartArea.top + 12 + 15 * row)
        }
        ctx.restore()
      },
    }
    const chart = new Chart(canvas.current, {
      type: "line",
      data: {
        labels: main.map((_, m) => String(m)),
        datasets: [
          {
            label: behind.length ? "Mean of all dates" : "There",
            data: [...main],
            borderColor: colour("--slate"),
            backgroundColor: `${colour("--water")}55`,
            fill: "origin",
            borderWidth: 2.5,
            pointRadius: 0,
            stepped: behind.length ? false : "middle",
          },
          ...behind.map((b) => ({
            label: b.name,
            data: [...b.curve],
            borderColor: colour("--water"),
            borderWidth: 1,
            pointRadius: 0,
          })),
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        interaction: { mode: "index", intersect: false },
        scales: {
          x: {
            grid: { display: false },
            title: { display: true, text: "Minute", color: colour("--soft") },
            ticks: { color: colour("--soft"), maxTicksLimit: 13, maxRotation: 0 },
          },
          y: {
            beginAtZero: true,
            grid: { color: colour("--line") },
            title: { display: true, text: "People in the room", color: colour("--soft") },
            ticks: { color: colour("--soft"), precision: 0, maxTicksLimit: 6 },
          },
        },
        plugins: {
          legend: { display: false },
          tooltip: {
            filter: (i) => i.datasetIndex === 0,
            callbacks: {
              title: (i) => `Minute ${i[0]?.label}`,
              label: (i) => `${Math.round(Number(i.raw) * 10) / 10} there`,
            },
          },
        },
      },
      plugins: [marked],
    })
    return () => chart.destroy()
  }, [main, behind, marks])
  return (
    <>
      <div className="mt-2 h-72">
        <canvas ref={canvas} role="img" aria-label="Who was there, minute by minute; the table below says the same" />
      </div>
      <table className="sr-only">
        <caption>Who was there, every five minutes</caption>
        <thead>
          <tr>
            <th>Minute</th>
            <th>People in the room</th>
          </tr>
        </thead>
        <tbody>
          {main.flatMap((n, m) =>
            m % 5
              ? []
              : [
                  <tr key={`minute ${String(m)}`}>
                    <td>{m}</td>
                    <td>{Math.round(n)}</td>
                  </tr>,
                ],
          )}
        </tbody>
      </table>
    </>
  )
}
