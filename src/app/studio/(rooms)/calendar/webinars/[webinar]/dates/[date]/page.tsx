import { notFound } from "next/navigation"
import { studio } from "@/app/guard"
import { dateOf } from "@/server/webinar/dates"
import { pollsOf } from "@/server/webinar/poll"
import { saidSince } from "@/server/webinar/talk"
import { Back, TextLink } from "@/ui/link"
import { idOf } from "../../../../../asked"
import { dated } from "../../../../../words"
import { HostPolls } from "./host-polls"
import { HostStage } from "./host-stage"
import { HostTalk } from "./host-talk"

export const metadata = { title: "The room" }

export default async function DatePage({ params }: { params: Promise<{ webinar: string; date: string }> }) {
  const s = await studio()
  const p = await params
  const date = await dateOf(s, idOf(p.webinar), idOf(p.date))
  if (!date) notFound()
  return (
    <div className="mx-auto max-w-4xl pt-2">
      <Back href={`/studio/calendar/webinars/${p.webinar}`}>{date.title}</Back>
      <h1 className="mt-1">{dated(date.starts, date.zone)}</h1>
      <p className="mt-1 text-soft tabular-nums">
        {date.over
          ? `${date.registered === 1 ? "1 person" : `${date.registered} people`} had a seat.`
          : `${date.registered === 1 ? "1 person has" : `${date.registered} people have`} a seat, ${date.here} in the room just now.`}{" "}
        {date.calledOff ? (
          "It was called off."
        ) : date.over ? (
          <TextLink href={`/studio/calendar/webinars/${p.webinar}/came?date=${date.id}`}>What came of it</TextLink>
        ) : null}
      </p>
      <HostStage date={date} />
      <HostPolls date={date.id} polls={await pollsOf(s.db, date.id)} open={!date.over} />
      <HostTalk date={date.id} host={date.host} said={await saidSince(s.db, date.id, 0)} open={!date.over} />
    </div>
  )
}
