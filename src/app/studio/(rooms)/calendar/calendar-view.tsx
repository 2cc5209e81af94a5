"use client"

import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core"
import { useRef, useState } from "react"
import type { Day, Span } from "@/core/calendar/days"
import { type Entry, entryKinds } from "@/core/calendar/entry"
import { webinarClockWords } from "@/core/webinar/words"
import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { Link, TextLink } from "@/ui/link"
import { Address } from "./address"
import { MoveDialog } from "./move-dialog"

/** An entry with its place in the school's days. */
export type Placed = Entry & { readonly day: Day; readonly minute: number }

/** How many entries a day of a month shows. */
const few = 4

const dayText = (day: Day, o: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat(locale, { ...o, timeZone: "UTC" }).format(Date.parse(`${day}T00:00:00Z`))

const spans: readonly (readonly [Span, string])[] = [
  ["month", "Month"],
  ["week", "Week"],
  ["list", "List"],
]

/** Everything that has a date. What can be moved is dragged to another day, or moved from its dialog. */
export function CalendarView({
  span,
  on,
  today,
  zone,
  days,
  before,
  after,
  entries,
  address,
}: {
  span: Span
  on: Day
  today: Day
  zone: string
  days: readonly Day[]
  before: Day
  after: Day
  entries: readonly Placed[]
  address: string | null
}) {
  const [moving, setMoving] = useState<{ entry: Placed; to: Day } | null>(null)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const at = (view: Span, day: Day) => `/studio/calendar?view=${view}&on=${day}`
  const by = new Map<Day, Placed[]>()
  for (const e of entries) by.set(e.day, [...(by.get(e.day) ?? []), e])
  const heading =
    span === "month"
      ? dayText(on, { month: "long", year: "numeric" })
      : `${dayText(days[0]!, { day: "numeric", month: "short" })} to ${dayText(days.at(-1)!, { day: "numeric", month: "short", year: "numeric" })}`
  // A link that was dragged is not followed where it is let go.
  const dragged = useRef(false)
  const drop = (e: DragEndEvent) => {
    setTimeout(() => {
      dragged.current = false
    }, 50)
    const entry = e.active.data.current as Placed | undefined
    const to = e.over?.id
    if (entry && typeof to === "string" && to !== entry.day) setMoving({ entry, to })
  }
  const move = (entry: Placed) => setMoving({ entry, to: entry.day })
  return (
    <>
      <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="mr-auto">{heading}</h1>
        <nav aria-label="Days shown" className="flex items-center gap-1">
          <Link aria-label="Earlier" className="rounded px-2.5 py-1 text-slate hover:bg-card" href={at(span, before)}>
            ‹
          </Link>
          <Link className="rounded px-2.5 py-1 text-slate hover:bg-card" href={at(span, today)}>
            Today
          </Link>
          <Link aria-label="Later" className="rounded px-2.5 py-1 text-slate hover:bg-card" href={at(span, after)}>
            ›
          </Link>
        </nav>
        <nav aria-label="View" className="flex overflow-hidden rounded-md border border-line">
          {spans.map(([key, name]) => (
            <Link
              key={key}
              href={at(key, on)}
              aria-current={key === span ? "page" : undefined}
              className={`px-3 py-1.5 ${key === span ? "bg-ink text-paper" : "bg-card text-ink hover:bg-paper"}`}
            >
              {name}
            </Link>
          ))}
        </nav>
        <Address address={address} />
      </div>
      {entries.length === 0 ? (
        <p className="mt-4 text-soft">
          Nothing has a date here. Webinars, broadcasts, openings, and the ends of offers and coupons appear by
          themselves. <TextLink href="/studio/calendar/webinars">Make a webinar</TextLink>
        </p>
      ) : null}
      <DndContext
        id="calendar"
        sensors={sensors}
        onDragStart={() => {
          dragged.current = true
        }}
        onDragEnd={drop}
      >
        {span === "list" ? (
          <List days={days} today={today} by={by} move={move} />
        ) : (
          <div
            className="mt-3 overflow-x-auto"
            onClickCapture={(e) => {
              if (dragged.current) e.preventDefault()
            }}
          >
            <table aria-label={heading} className="w-full min-w-[54rem] table-fixed border-collapse">
              <thead>
                <tr>
                  {days.slice(0, 7).map((d) => (
                    <th
                      key={d}
                      scope="col"
                      className="border border-line px-2 py-1 text-left text-fine font-semibold text-soft"
                    >
                      {dayText(d, span === "week" ? { weekday: "long" } : { weekday: "short" })}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {Array.from({ length: days.length / 7 }, (_, i) => days.slice(7 * i, 7 * i + 7)).map((week) => (
                  <tr key={week[0]}>
                    {week.map((d) => (
                      <DayCell
                        key={d}
                        day={d}
                        today={today}
                        faint={span === "month" && d.slice(0, 7) !== on.slice(0, 7)}
                        tall={span === "week"}
                        entries={by.get(d) ?? []}
                        move={move}
                      />
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </DndContext>
      <p className="mt-2 text-fine text-soft">Times in {zone}.</p>
      {moving ? <MoveDialog {...moving} zone={zone} close={() => setMoving(null)} /> : null}
    </>
  )
}

function DayCell({
  day,
  today,
  faint,
  tall,
  entries,
  move,
}: {
  day: Day
  today: Day
  faint: boolean
  tall: boolean
  entries: readonly Placed[]
  move: (e: Placed) => void
}) {
  const { setNodeRef, isOver } = useDroppable({ id: day })
  const shown = tall || entries.length <= few ? entries : entries.slice(0, few - 1)
  const more = entries.length - shown.length
  return (
    <td
      ref={setNodeRef}
      className={`border border-line p-1 align-top ${tall ? "h-[24rem]" : "h-[6.4rem]"} ${isOver ? "bg-water/30" : faint ? "bg-line/25" : ""}`}
    >
      <p
        className={`mb-0.5 px-1 text-fine tabular-nums ${day === today ? "font-semibold text-amber-text" : "text-soft"}`}
      >
        <time dateTime={day}>
          {dayText(day, { day: "numeric", ...(day.endsWith("-01") ? { month: "short" } : {}) })}
        </time>
        {day === today ? " today" : ""}
      </p>
      {shown.map((e) => (
        <Chip key={`${e.kind}${e.id}`} entry={e} tall={tall} move={move} />
      ))}
      {more > 0 ? (
        <Link
          className="block min-h-6 px-1 pt-0.5 text-fine text-slate hover:underline"
          href={`/studio/calendar?view=list&on=${day}`}
        >
          {more} more
        </Link>
      ) : null}
    </td>
  )
}

const looks: Record<Entry["kind"], string> = {
  webinar: "border-slate",
  broadcast: "border-water",
  course: "border-reed",
  "offer-from": "border-reed",
  "offer-until": "border-dusk",
  "coupon-from": "border-reed",
  "coupon-until": "border-dusk",
  charges: "border-soft",
}

const timeOf = (e: Placed) => (e.wholeDay ? "" : `${webinarClockWords(e.minute)} `)

function Chip({ entry: e, tall, move }: { entry: Placed; tall: boolean; move: (e: Placed) => void }) {
  const { setNodeRef, listeners, transform } = useDraggable({
    id: `${e.kind}-${e.id}`,
    data: e,
    disabled: !e.movable,
  })
  return (
    <div
      ref={setNodeRef}
      {...listeners}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 10 } : undefined}
      className={`relative mb-0.5 border-l-[3px] bg-card px-1.5 text-fine leading-snug ${looks[e.kind]} ${e.movable ? "cursor-grab touch-none" : ""}`}
    >
      <Link
        href={e.href}
        draggable={false}
        className={`block min-h-6 py-0.5 hover:underline ${tall ? "[overflow-wrap:anywhere]" : "line-clamp-2"}`}
        title={`${entryKinds[e.kind]}: ${e.title}${e.detail ? `, ${e.detail}` : ""}`}
      >
        <span className="tabular-nums">{timeOf(e)}</span>
        <span dir="auto">{e.title}</span>
        <span className="text-soft">{wordOf(e)}</span>
      </Link>
      {tall && e.detail ? <span className="block text-soft">{e.detail}</span> : null}
      {tall && e.movable ? (
        <Button look="quiet" className="min-h-7 px-0 py-0" onClick={() => move(e)}>
          Move…
        </Button>
      ) : null}
    </div>
  )
}

/** What it is, where its title doesn't say. */
const wordOf = (e: Entry): string =>
  ({ "offer-from": " begins", "offer-until": " ends", "coupon-from": " begins", "coupon-until": " ends" })[
    e.kind as "offer-from"
  ] ?? ""

function List({
  days,
  today,
  by,
  move,
}: {
  days: readonly Day[]
  today: Day
  by: ReadonlyMap<Day, readonly Placed[]>
  move: (e: Placed) => void
}) {
  return (
    <ul className="mt-3">
      {days
        .filter((d) => by.has(d))
        .map((d) => (
          <li key={d} className="grid grid-cols-1 gap-x-6 border-t border-line py-2 sm:grid-cols-[11rem_1fr]">
            <h2 className={`text-lead ${d === today ? "text-amber-text" : ""}`}>
              {dayText(d, { weekday: "short", day: "numeric", month: "short", year: "numeric" })}
            </h2>
            <ul>
              {by.get(d)!.map((e) => (
                <li key={`${e.kind}${e.id}`} className="flex flex-wrap items-baseline gap-x-3 py-0.5">
                  <span className="w-12 text-soft tabular-nums">{e.wholeDay ? "" : webinarClockWords(e.minute)}</span>
                  <span className={`border-l-[3px] pl-2 text-note text-soft sm:w-32 ${looks[e.kind]}`}>
                    {entryKinds[e.kind]}
                  </span>
                  <Link className="min-w-0 text-slate hover:underline [overflow-wrap:anywhere]" href={e.href}>
                    <span dir="auto">{e.title}</span>
                  </Link>
                  <span className="text-soft">{e.detail}</span>
                  {e.movable ? (
                    <Button look="quiet" className="min-h-7 py-0" onClick={() => move(e)}>
                      Move…
                    </Button>
                  ) : null}
                </li>
              ))}
            </ul>
          </li>
        ))}
    </ul>
  )
}
