"use client"

import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from "chart.js"
import { useEffect, useRef } from "react"
import type { CashMonth } from "@/core/numbers/cash"
import { moneyRound } from "@/core/offer/money"
import { Table } from "@/ui/table"

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip)

/** Cash by month over two years; the table below the chart says the same. */
export function CashAhead({ months, currency }: { months: readonly CashMonth[]; currency: string }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const shown = JSON.stringify(months.map((m) => Math.round(m.kept - m.cost)))
  useEffect(() => {
    if (!canvas.current) return
    const look = getComputedStyle(document.documentElement)
    const colour = (name: string) => look.getPropertyValue(name).trim()
    const all = JSON.parse(shown) as number[]
    const chart = new Chart(canvas.current, {
      type: "bar",
      data: {
        labels: all.map((_, i) => i + 1),
        datasets: [{ data: all, backgroundColor: all.map((n) => colour(n < 0 ? "--dusk" : "--reed")) }],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        scales: {
          x: {
            title: { display: true, text: "months from the first visitor on", color: colour("--soft") },
            grid: { display: false },
            ticks: { color: colour("--soft") },
          },
          y: {
            grid: { color: colour("--line") },
            ticks: { color: colour("--soft"), maxTicksLimit: 5, callback: (v) => moneyRound(Number(v), currency) },
          },
        },
        plugins: {
          tooltip: {
            callbacks: {
              title: ([i]) => `Month ${i?.label}`,
              label: (i) => moneyRound(Number(i.parsed.y), currency),
            },
          },
        },
      },
    })
    return () => chart.destroy()
  }, [shown, currency])
  let sum = 0
  return (
    <section aria-label="Cash by month" className="mt-8">
      <h2>Cash by month</h2>
      <p className="mt-1 max-w-3xl text-soft">
        What comes in each month after what visitors cost, over two years: instalments and subscriptions when they fall
        due.
      </p>
      <div className="mt-3 h-52 max-w-4xl">
        <canvas ref={canvas} role="img" aria-label="Cash by month; the table below says the same" />
      </div>
      <details className="mt-2 max-w-2xl">
        <summary className="cursor-pointer text-slate">As a table</summary>
        <Table
          className="tabular-nums"
          columns={[
            { says: "Month" },
            { says: "Kept", right: true, wide: "w-32" },
            { says: "Visitors cost", right: true, wide: "w-32" },
            { says: "Together so far", right: true, wide: "w-36" },
          ]}
        >
          {months.map((m, i) => {
            sum += m.kept - m.cost
            return (
              <tr key={i} className="border-b border-line">
                <td className="py-1">{i + 1}</td>
                <td className="text-right">{moneyRound(m.kept, currency)}</td>
                <td className="text-right">{moneyRound(m.cost, currency)}</td>
                <td className="text-right">{moneyRound(sum, currency)}</td>
              </tr>
            )
          })}
        </Table>
      </details>
    </section>
  )
}
