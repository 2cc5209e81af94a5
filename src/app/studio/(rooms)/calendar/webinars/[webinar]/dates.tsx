"use client"

import { useState, useTransition } from "react"
import type { Webinar } from "@/core/webinar/webinar"
import type { DateListed } from "@/server/webinar/dates"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { TextField } from "@/ui/field"
import { Link, NameLink } from "@/ui/link"
import { dated, people } from "../../../words"
import { callOffAction, moveDateAction } from "../actions"

/** How many dates stand there at first. */
const few = 8

/** The dates of a webinar: those to come, which can be moved or called off, and those behind with who came. */
export function Dates({
  id,
  webinar,
  toCome,
  behind,
}: {
  id: number
  webinar: Webinar
  toCome: readonly DateListed[]
  behind: readonly DateListed[]
}) {
  const [all, setAll] = useState(false)
  const [open, setOpen] = useState<{ date: DateListed; how: "move" | "call-off" } | null>(null)
  return (
    <section aria-label="Its dates">
      <h2>To come</h2>
      {toCome.length === 0 ? (
        <p className="text-soft">
          {webinar.when.kind === "any-time" ? "A date appears here when somebody has chosen it." : "No date yet."}
        </p>
      ) : (
        <ul className="mt-1">
          {(all ? toCome : toCome.slice(0, few)).map((d) => (
            <li key={d.id} className="border-t border-line py-1.5">
              <span className={d.calledOff ? "text-soft line-through" : "font-semibold"}>
                {dated(d.starts, webinar.zone)}
              </span>
              {d.calledOff ? (
                <span className="ml-2 text-note text-dusk">called off</span>
              ) : (
                <span className="block text-note">
                  <span className="block text-soft tabular-nums">
                    {d.registered ? `${people(d.registered)} registered` : "Nobody registered yet"}
                    {d.held ? `, ${d.held} held` : ""}
                    {webinar.seats === null ? "" : `, ${webinar.seats} seats`}
                    {d.planned.getTime() === d.starts.getTime() ? "" : `, moved from ${dated(d.planned, webinar.zone)}`}
                  </span>
                  <Link
                    className="mr-2 text-slate hover:underline"
                    href={`/studio/calendar/webinars/${id}/dates/${d.id}`}
                  >
                    Room
                  </Link>
                  {d.running ? (
                    <span className="text-reed">under way</span>
                  ) : (
                    <>
                      <Button look="quiet" className="min-h-7 py-0" onClick={() => setOpen({ date: d, how: "move" })}>
                        Move…
                      </Button>
                      <Button
                        look="quiet"
                        className="min-h-7 py-0"
                        onClick={() => setOpen({ date: d, how: "call-off" })}
                      >
                        Call off…
                      </Button>
                    </>
                  )}
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {toCome.length > few && !all ? (
        <Button look="quiet" onClick={() => setAll(true)}>
          {toCome.length - few} more
        </Button>
      ) : null}
      {behind.length ? (
        <>
          <div className="mt-5 flex items-baseline justify-between gap-3">
            <h2>Behind</h2>
            <Link className="text-note text-slate hover:underline" href={`/studio/calendar/webinars/${id}/came`}>
              What came of it
            </Link>
          </div>
          <ul className="mt-1">
            {behind.map((d) => (
              <li key={d.id} className="border-t border-line py-1.5">
                <span className="font-semibold">{dated(d.starts, webinar.zone)}</span>
                <span className="block text-note text-soft tabular-nums">
                  {d.calledOff
                    ? "called off"
                    : `${d.registered} registered, ${d.attended} attended, ${d.leftEarly} left early, ${d.missed} missed`}
                </span>
                {d.calledOff ? null : (
                  <span className="block text-note">
                    <Link
                      className="mr-3 text-slate hover:underline"
                      href={`/studio/calendar/webinars/${id}/came?date=${d.id}`}
                    >
                      Who was there
                    </Link>
                    <NameLink href={`/studio/calendar/webinars/${id}/dates/${d.id}`}>What was said</NameLink>
                  </span>
                )}
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {open ? <Change {...open} webinar={webinar} close={() => setOpen(null)} /> : null}
    </section>
  )
}

/** Says what moving or calling off does, and does it. */
function Change({
  date,
  how,
  webinar,
  close,
}: {
  date: DateListed
  how: "move" | "call-off"
  webinar: Webinar
  close: () => void
}) {
  const [busy, start] = useTransition()
  const [refused, setRefused] = useState("")
  const local = new Date(date.starts).toLocaleString("sv", { timeZone: webinar.zone })
  const [to, setTo] = useState({ date: local.slice(0, 10), at: local.slice(11, 16) })
  const done = (answer: { refused?: string }) => (answer.refused ? setRefused(answer.refused) : close())
  const whom = date.registered ? `${people(date.registered)} registered for it` : "Nobody has registered for it"
  const title = `${how === "move" ? "Move" : "Call off"} ${dated(date.starts, webinar.zone)}`
  return (
    <Dialog open onOpenChange={(is) => !is && close()} title={title}>
      <p>
        {whom}.
        {date.registered
          ? how === "move"
            ? " Their seats move along, and they are written to, with a new entry for their calendar."
            : " They lose their seats and are written to, and it goes from their calendar."
          : ""}
      </p>
      {how === "move" ? (
        <div className="mt-3 grid grid-cols-2 gap-3">
          <TextField
            label="Date"
            type="date"
            value={to.date}
            error={refused || undefined}
            onChange={(e) => e.target.value && setTo({ ...to, date: e.target.value })}
          />
          <TextField
            label={`Time in ${webinar.zone}`}
            type="time"
            value={to.at}
            onChange={(e) => e.target.value && setTo({ ...to, at: e.target.value })}
          />
        </div>
      ) : refused ? (
        <p role="alert" className="mt-2 font-semibold text-dusk">
          {refused}
        </p>
      ) : null}
      <p className="mt-4">
        <Button
          look={how === "move" ? "primary" : "danger"}
          disabled={busy}
          onClick={() =>
            start(async () => {
              const [h, m] = to.at.split(":").map(Number)
              done(
                how === "move"
                  ? await moveDateAction(date.id, { date: to.date, at: 60 * h! + m! })
                  : await callOffAction(date.id),
              )
            })
          }
        >
          {how === "move" ? "Move it" : "Call it off"}
        </Button>
      </p>
    </Dialog>
  )
}
