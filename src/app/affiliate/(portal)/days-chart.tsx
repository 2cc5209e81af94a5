"use client"

import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from "chart.js"
import { useEffect, useRef } from "react"
import { locale } from "@/core/words/locale"
import type { DayOf } from "@/server/affiliate/portal"

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Legend,
  LineController,
  LineElement,
  LinearScale,
  PointElement,
  Tooltip,
)

const dayName = (day: string) =>
  new Intl.DateTimeFormat(locale, { day: "numeric", month: "short", timeZone: "UTC" }).format(
    new Date(`${day}T00:00:00Z`),
  )

/** Clicks as bars, who joined and bought as lines over them; the same as a table for whoever doesn't see them. */
export function DaysChart({ days }: { days: readonly DayOf[] }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (!canvas.current) return
    const look = getComputedStyle(canvas.current)
    const colour = (name: string) => look.getPropertyValue(name).trim()
    Chart.defaults.font.family = look.fontFamily
    const chart = new Chart(canvas.current, {
      type: "bar",
      data: {
        labels: days.map((d) => dayName(d.day)),
        datasets: [
          {
            type: "line",
            label: "sales",
            data: days.map((d) => d.sales),
            borderColor: colour("--slate"),
            backgroundColor: colour("--slate"),
            pointRadius: 2.5,
            yAxisID: "few",
          },
          {
            type: "line",
            label: "joined",
            data: days.map((d) => d.joins),
            borderColor: colour("--ink"),
            backgroundColor: colour("--ink"),
            borderDash: [4, 3],
            pointRadius: 2,
            yAxisID: "few",
          },
          { type: "bar", label: "clicks", data: days.map((d) => d.clicks), backgroundColor: colour("--line") },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        scales: {
          x: { grid: { display: false }, ticks: { color: colour("--soft"), maxTicksLimit: 6, maxRotation: 0 } },
          y: {
            beginAtZero: true,
            grid: { color: colour("--line") },
            ticks: { color: colour("--soft"), precision: 0, maxTicksLimit: 4 },
            title: { display: true, text: "clicks", color: colour("--soft") },
          },
          few: {
            position: "right",
            beginAtZero: true,
            title: { display: true, text: "joined, sales", color: colour("--soft") },
            grid: { display: false },
            ticks: { color: colour("--soft"), precision: 0, maxTicksLimit: 4 },
          },
        },
        plugins: { legend: { align: "end", labels: { color: colour("--ink"), boxWidth: 12 } } },
      },
    })
    // A canvas isn't drawn again by itself once the letters have come.
    let there = true
    document.fonts.ready.then(() => there && chart.update())
    return () => {
      there = false
      chart.destroy()
    }
  }, [days])
  return (
    <>
      <div className="mt-2 h-48">
        <canvas ref={canvas} role="img" aria-label="Clicks, people who joined, and sales, day by day" />
      </div>
      <table className="sr-only">
        <caption>Day by day</caption>
        <thead>
          <tr>
            <th>Day</th>
            <th>Clicks</th>
            <th>Joined</th>
            <th>Sales</th>
          </tr>
        </thead>
        <tbody>
          {days.map((d) => (
            <tr key={d.day}>
              <td>{dayName(d.day)}</td>
              <td>{d.clicks}</td>
              <td>{d.joins}</td>
              <td>{d.sales}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
