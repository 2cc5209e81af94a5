"use client"

import { BarController, BarElement, CategoryScale, Chart, Legend, LinearScale, Tooltip } from "chart.js"
import { useEffect, useRef } from "react"
import type { ComingMonth } from "@/core/ledger/coming"
import { moneyRound, moneyText } from "@/core/offer/money"
import { locale } from "@/core/words/locale"

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip, Legend)

const monthName = (month: string) =>
  new Intl.DateTimeFormat(locale, { month: "short", year: "2-digit", timeZone: "UTC" }).format(
    new Date(`${month}-01T00:00:00Z`),
  )

/** Twelve months of what is to come in, as bars; the same as a table for whoever doesn't see them. */
export function ComingChart({ currency, months }: { currency: string; months: readonly ComingMonth[] }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    if (!canvas.current) return
    const look = getComputedStyle(document.documentElement)
    const colour = (name: string) => look.getPropertyValue(name).trim()
    const chart = new Chart(canvas.current, {
      type: "bar",
      data: {
        labels: months.map((m) => monthName(m.month)),
        datasets: [
          { label: "instalments, owed", data: months.map((m) => m.instalments), backgroundColor: colour("--slate") },
          {
            label: "subscriptions, until ended",
            data: months.map((m) => m.subscriptions),
            backgroundColor: colour("--water"),
          },
        ],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        scales: {
          x: { stacked: true, grid: { display: false }, ticks: { color: colour("--soft") } },
          y: {
            stacked: true,
            grid: { color: colour("--line") },
            ticks: { color: colour("--soft"), maxTicksLimit: 5, callback: (v) => moneyRound(Number(v), currency) },
          },
        },
        plugins: {
          legend: { align: "end", labels: { color: colour("--ink"), boxWidth: 12 } },
          tooltip: {
            callbacks: { label: (i) => `${i.dataset.label}: ${moneyText(Number(i.raw), currency)}` },
          },
        },
      },
    })
    return () => chart.destroy()
  }, [months, currency])
  return (
    <>
      <div className="mt-2 h-56">
        <canvas ref={canvas} role="img" aria-label="What comes in, month by month; the table below says the same" />
      </div>
      <table className="sr-only">
        <caption>What comes in, month by month</caption>
        <thead>
          <tr>
            <th>Month</th>
            <th>Instalments</th>
            <th>Subscriptions</th>
          </tr>
        </thead>
        <tbody>
          {months.map((m) => (
            <tr key={m.month}>
              <td>{monthName(m.month)}</td>
              <td>{moneyText(m.instalments, currency)}</td>
              <td>{moneyText(m.subscriptions, currency)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
