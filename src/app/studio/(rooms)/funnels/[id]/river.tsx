"use client"

import { useCallback, useEffect, useRef, useState } from "react"
import type { Drawing } from "@/core/funnel/layout"
import { eMails } from "../../words"

const labelLook: Record<Drawing["labels"][number]["kind"], string> = {
  share: "bg-card/80 text-ink font-semibold",
  left: "bg-card/80 text-soft",
  here: "bg-card/80 text-reed",
  mail: "bg-card/80",
  source: "text-right text-ink",
  thread: "",
  count: "bg-card/80",
  forecast: "bg-card/80 text-reed",
}

const streamColour: Record<Drawing["ribbons"][number]["kind"], string> = {
  page: "var(--water)",
  source: "var(--water)",
  affiliate: "var(--amber)",
  mail: "var(--amber)",
  accepted: "var(--slate)",
  declined: "var(--dusk)",
}

/** The drawing of a river, with its cards as buttons. Arrows walk, Enter opens what is selected. */
export function River({
  drawing,
  selected,
  onSelect,
  troubled,
  says,
}: {
  drawing: Drawing
  selected: string
  onSelect: (node: string) => void
  troubled: ReadonlySet<string>
  /** Words a number: of people, or of money. */
  says: (n: number) => string
}) {
  const scroller = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const card = scroller.current?.querySelector<HTMLElement>(`[data-node="${selected}"]`)
    const box = scroller.current
    if (!card || !box) return
    if (card.offsetLeft < box.scrollLeft) box.scrollLeft = card.offsetLeft - 40
    else if (card.offsetLeft + card.offsetWidth > box.scrollLeft + box.clientWidth)
      box.scrollLeft = card.offsetLeft + card.offsetWidth - box.clientWidth + 40
  }, [selected])
  // Whether it goes on to the right of what is seen.
  const [more, setMore] = useState(false)
  const look = useCallback(() => {
    const box = scroller.current
    if (box) setMore(box.scrollLeft + box.clientWidth < box.scrollWidth - 8)
  }, [])
  // biome-ignore lint/correctness/useExhaustiveDependencies: another drawing may be wider
  useEffect(() => {
    look()
    const watch = new ResizeObserver(look)
    if (scroller.current) watch.observe(scroller.current)
    return () => watch.disconnect()
  }, [look, drawing.width])
  const empty = drawing.bodies.every((b) => b.depth === 0)
  return (
    <div className="relative">
      <div ref={scroller} onScroll={look} className="overflow-x-auto rounded-lg border border-line bg-shallow">
        <div className="relative" style={{ width: drawing.width, height: drawing.height }}>
          <svg width={drawing.width} height={drawing.height} aria-hidden="true" className="absolute inset-0">
            <defs>
              <linearGradient id="fade" x1="0" y1="0" x2="0" y2="1">
                <stop offset="0" stopColor="var(--water)" stopOpacity=".75" />
                <stop offset="1" stopColor="var(--water)" stopOpacity="0" />
              </linearGradient>
            </defs>
            {drawing.drains.map((d) => (
              <path key={d.node} d={d.d} fill="url(#fade)" />
            ))}
            {drawing.ribbons.map((r) =>
              r.dry ? (
                <path
                  key={`${r.from}${r.to}${r.kind}`}
                  d={r.d}
                  fill="none"
                  stroke="var(--soft)"
                  strokeOpacity={empty ? 0.7 : 0.35}
                  strokeDasharray="4 4"
                />
              ) : (
                <path
                  key={`${r.from}${r.to}${r.kind}`}
                  d={r.d}
                  fill={streamColour[r.kind]}
                  fillOpacity={
                    r.kind === "source" || r.kind === "affiliate" || r.kind === "declined"
                      ? 0.8
                      : r.kind === "mail"
                        ? 0.75
                        : 1
                  }
                />
              ),
            )}
            {drawing.bodies.map((b) =>
              b.shown ? (
                <rect
                  key={b.node}
                  x={b.x}
                  y={b.y}
                  width={b.w}
                  height={b.shown}
                  fill={b.node.startsWith("p") ? "var(--amber)" : "var(--water)"}
                  fillOpacity={b.node.startsWith("p") ? 0.75 : 1}
                />
              ) : (
                <path
                  key={b.node}
                  d={`M${b.x} ${b.y}h${b.w}`}
                  stroke="var(--soft)"
                  strokeOpacity=".6"
                  strokeDasharray="4 4"
                />
              ),
            )}
            {drawing.bodies.map((b) =>
              b.expected === null ? null : (
                <rect
                  key={`expected ${b.node}`}
                  x={b.x + 1}
                  y={b.y}
                  width={b.w - 2}
                  height={Math.max(1, b.expected)}
                  fill="none"
                  stroke="var(--reed)"
                  strokeWidth="2"
                  strokeDasharray="6 4"
                />
              ),
            )}
            {drawing.basins.map((b) => (
              <path
                key={b.node}
                d={`M${b.x} ${b.y}h${b.w - 4}q4 0 4 4v${Math.max(0, b.h - 8)}q0 4 -4 4h-${b.w - 4}z`}
                fill="var(--reed)"
                fillOpacity=".7"
              />
            ))}
            {drawing.threads.map((t) => (
              <path
                key={`${t.from}${t.to}`}
                d={t.d}
                fill="none"
                stroke="var(--amber-text)"
                strokeWidth="1.4"
                strokeDasharray="2 3"
              />
            ))}
          </svg>
          {drawing.labels.map((l) => (
            <div
              key={`${l.x}:${l.y}`}
              aria-hidden="true"
              className={`absolute rounded px-1 text-fine leading-[18px] whitespace-pre tabular-nums ${labelLook[l.kind]}`}
              style={{ left: l.x, top: l.y, width: l.w, height: l.h, overflow: "hidden", textOverflow: "ellipsis" }}
            >
              {l.kind === "source" ? (
                <>
                  <span className="block truncate leading-[17px]">{l.text.split("\n")[0]}</span>
                  <span className="block leading-[15px] text-soft">{l.text.split("\n")[1]}</span>
                </>
              ) : (
                <span className="block text-center">{l.text}</span>
              )}
            </div>
          ))}
          {drawing.cards.map((c) => {
            const here = c.node === selected
            return (
              <button
                key={c.node}
                type="button"
                data-node={c.node}
                title={c.sub ? `${c.title} (${c.sub})` : c.title}
                tabIndex={here ? 0 : -1}
                aria-pressed={here}
                onClick={() => onSelect(c.node)}
                onFocus={() => onSelect(c.node)}
                className={`absolute rounded-lg border bg-card px-2 text-left shadow-xs ${here ? "border-amber ring-2 ring-amber" : troubled.has(c.node) ? "border-amber" : "border-line"}`}
                style={{ left: c.x, top: c.y, width: c.w, height: c.h }}
              >
                <span className="block truncate text-body leading-5 font-bold">{c.title}</span>
                {/* The kind is never left out: where there is little room it is cut, and the title says it whole. */}
                <span className="flex h-5 items-center gap-x-1 text-fine leading-5 tabular-nums">
                  <strong>{says(c.n)}</strong>
                  {c.mails ? <Envelope /> : null}
                  <span className="min-w-0 truncate text-soft">{c.mails ? `in ${eMails(c.mails)}` : c.sub}</span>
                </span>
              </button>
            )
          })}
        </div>
      </div>
      {more ? (
        <p
          aria-hidden="true"
          className="pointer-events-none absolute inset-y-px right-px flex items-end rounded-r-lg bg-gradient-to-r from-transparent to-shallow to-60% pb-2 pl-10 pr-3 text-label font-semibold text-slate"
        >
          It goes on: →
        </p>
      ) : null}
    </div>
  )
}

function Envelope() {
  return (
    <svg aria-hidden="true" width="14" height="10" viewBox="0 0 14 10" className="shrink-0">
      <rect x=".5" y=".5" width="13" height="9" rx="1" fill="var(--card)" stroke="var(--soft)" />
      <path d="m1 1.500 6 4 6-4" fill="none" stroke="var(--soft)" />
    </svg>
  )
}

/** Where an arrow leads from a card: the nearest one that way. */
export function neighbour(drawing: Drawing, from: string, way: "left" | "right" | "up" | "down"): string {
  const at = drawing.cards.find((c) => c.node === from)
  if (!at) return drawing.cards[0]?.node ?? from
  const along = way === "left" || way === "right"
  const sign = way === "right" || way === "down" ? 1 : -1
  const ahead = drawing.cards
    .map((c) => ({ node: c.node, dx: (c.x - at.x) * (along ? sign : 1), dy: (c.y - at.y) * (along ? 1 : sign) }))
    .filter((c) => c.node !== from && (along ? c.dx > 4 : c.dy > 4))
  ahead.sort((a, b) =>
    along
      ? a.dx + 3 * Math.abs(a.dy) - (b.dx + 3 * Math.abs(b.dy))
      : a.dy + 2 * Math.abs(a.dx) - (b.dy + 2 * Math.abs(b.dx)),
  )
  return ahead[0]?.node ?? from
}
