"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { instantAt } from "@/core/webinar/rule"
import type { Webinar } from "@/core/webinar/webinar"
import type { DateListed } from "@/server/webinar/dates"
import type { NamedWebinar, WebinarChoices } from "@/server/webinar/webinar-view"
import { Button } from "@/ui/button"
import { Clash } from "@/ui/clash"
import { option, SelectField, TextField } from "@/ui/field"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { ChooseMedia } from "../../../page-editor/block/choose-media"
import { ChaptersField } from "../../../page-editor/chapters-field"
import { removeWebinarAction, saveWebinarAction } from "../actions"
import { Dates } from "./dates"
import { NumberField } from "./number-field"
import { PollsField } from "./polls-field"
import { WhenEditor } from "./when-editor"

const labels = {
  title: "Title",
  promise: "What they will know afterwards",
  host: "Host",
  minutes: "Length",
  zone: "Time zone",
  when: "When it is",
  seats: "Seats",
  offer: "Offer",
  offerMinute: "Offer shown",
  recording: "Recording",
  captions: "Captions",
  handout: "Hand-out",
  polls: "Polls",
  deal: "Price for those with a seat",
  replay: "What the replay plays",
  chapters: "Chapters",
  opens: "Room opens",
  chat: "Chat",
  prepare: "What to do before",
  replayDays: "Replay",
  attended: "Attended",
  missed: "Missed",
} as const satisfies Record<keyof Webinar, string>

/** A webinar: what it is, when it is, and its dates. */
export function WebinarEditor({
  id,
  webinar,
  choices,
  toCome,
  behind,
  now,
}: {
  id: number
  webinar: Versioned<Webinar>
  choices: WebinarChoices
  toCome: readonly DateListed[]
  behind: readonly DateListed[]
  /** Business time, ms. */
  now: number
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [trouble, setTrouble] = useState("")
  const [videos, setVideos] = useState<readonly NamedWebinar[]>(choices.videos)
  const [files, setFiles] = useState<readonly NamedWebinar[]>(choices.files)
  const { value, set, saved, clash } = useShared(webinar, async (next, before) => {
    const done = await saveWebinarAction(id, next, before)
    if ("value" in done) router.refresh()
    return done
  })
  const put = (change: Partial<Webinar>) => set((now) => ({ ...now, ...change }))
  const refused = typeof saved === "object" ? saved : null
  const error = (field: keyof Webinar) => (refused?.field === field ? refused.refused : undefined)
  const text = (field: "title" | "promise" | "host" | "prepare", most: number) => (
    <TextField
      label={labels[field]}
      value={value[field]}
      maxLength={most}
      error={error(field)}
      onChange={(e) => put({ [field]: e.target.value })}
    />
  )
  return (
    <>
      <div className="mt-1 flex items-center justify-between gap-4">
        <h1 className="truncate">{value.title}</h1>
        <span
          role="status"
          className={`text-note whitespace-nowrap ${refused ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {saveWords(saved)}
        </span>
      </div>
      <Clash clash={clash} labels={labels} />
      <div className="mt-3 grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="space-y-6">
          <section aria-label="What it is" className="grid grid-cols-1 gap-3 sm:grid-cols-2">
            <div className="sm:col-span-2">{text("title", 160)}</div>
            <div className="sm:col-span-2">{text("promise", 300)}</div>
            {text("host", 80)}
            <NumberField
              label="Length in minutes"
              value={value.minutes}
              error={error("minutes")}
              onChange={(minutes) => put({ minutes })}
            />
            <div className="sm:col-span-2">{text("prepare", 600)}</div>
          </section>
          <section aria-label="When it is" className="space-y-3 border-t border-line pt-4">
            <h2>When it is</h2>
            <WhenEditor
              value={value.when}
              past={(d) => instantAt(d.date, d.at, value.zone) < now}
              onChange={(when) => put({ when })}
            />
            {value.when.kind === "any-time" ? null : (
              <SelectField
                label="Time zone of these times"
                value={value.zone}
                hint="Visitors see them in their own."
                onChange={(e) => put({ zone: e.target.value })}
              >
                {(choices.zones.includes(value.zone) ? choices.zones : [value.zone, ...choices.zones]).map((z) => (
                  <option key={z}>{z}</option>
                ))}
              </SelectField>
            )}
            <NumberField
              label="Seats for each date"
              value={value.seats}
              empty
              hint="Empty: as many as come."
              error={error("seats")}
              onChange={(seats) => put({ seats })}
            />
          </section>
          <section aria-label="The room" className="grid grid-cols-1 gap-3 border-t border-line pt-4 sm:grid-cols-2">
            <h2 className="sm:col-span-2">The room</h2>
            <div>
              <ChooseMedia
                label={labels.recording}
                kind="video"
                none="None: the host speaks live"
                hint="It plays in step for everybody of a date."
                value={value.recording}
                among={videos}
                onUploaded={(m) => setVideos([...videos, m])}
                onChange={(recording) => put({ recording })}
              />
            </div>
            <div>
              <ChooseMedia
                label={labels.captions}
                kind="file"
                none="None"
                hint="A WebVTT file."
                value={value.captions}
                among={files.filter((f) => /\.vtt$/i.test(f.name))}
                onUploaded={(m) => setFiles([...files, m])}
                onChange={(captions) => put({ captions })}
              />
            </div>
            <div>
              <ChooseMedia
                label={labels.handout}
                kind="file"
                none="None"
                hint="Whoever is in the room can take it away."
                value={value.handout}
                among={files}
                onUploaded={(m) => setFiles([...files, m])}
                onChange={(handout) => put({ handout })}
              />
            </div>
            <NumberField
              label="Room opens so many minutes before"
              value={value.opens}
              error={error("opens")}
              onChange={(opens) => put({ opens })}
            />
            <SelectField
              label={labels.chat}
              value={value.chat}
              onChange={(e) => put({ chat: e.target.value as Webinar["chat"] })}
            >
              <option value="all">everybody sees what is said</option>
              <option value="host">only the host sees it</option>
              <option value="off">none</option>
            </SelectField>
          </section>
          <section aria-label="Polls" className="border-t border-line pt-4">
            <h2>Polls</h2>
            <p className="text-note text-soft">
              Each is asked in the room from its minute on, and shows what it came to.
            </p>
            <PollsField value={value.polls} error={error("polls")} onChange={(polls) => put({ polls })} />
          </section>
          <section
            aria-label="What it leads to"
            className="grid grid-cols-1 gap-3 border-t border-line pt-4 sm:grid-cols-2"
          >
            <h2 className="sm:col-span-2">What it leads to</h2>
            <SelectField
              label={labels.offer}
              value={value.offer ?? ""}
              onChange={(e) => put({ offer: e.target.value ? Number(e.target.value) : null })}
            >
              <option value="">None</option>
              {choices.offers.map((o) => option(o.id, o.name))}
            </SelectField>
            <NumberField
              label="Shown from minute"
              value={value.offerMinute}
              error={error("offerMinute")}
              onChange={(offerMinute) => put({ offerMinute })}
            />
            <SelectField
              label="Coupon for those with a seat"
              value={value.deal?.coupon ?? ""}
              hint="From then on it counts for nobody else."
              error={error("deal")}
              onChange={(e) =>
                put({
                  deal: e.target.value ? { coupon: Number(e.target.value), days: value.deal?.days ?? 3 } : null,
                })
              }
            >
              <option value="">None: the same price as for everybody</option>
              {choices.coupons.map((k) => option(k.id, k.name))}
            </SelectField>
            {value.deal ? (
              <NumberField
                label="Ends so many days after it"
                value={value.deal.days}
                hint="At the end of that day, where they are: the room, the e-mails and the checkout say and keep the same instant."
                onChange={(days) => value.deal && put({ deal: { ...value.deal, days } })}
              />
            ) : null}
          </section>
          <section aria-label="Replay" className="grid grid-cols-1 gap-3 border-t border-line pt-4 sm:grid-cols-2">
            <h2 className="sm:col-span-2">Replay</h2>
            <NumberField
              label="There for so many days after it"
              value={value.replayDays}
              empty
              hint="To the end of the last day, where the viewer is. Empty: no replay."
              error={error("replayDays")}
              onChange={(replayDays) => put({ replayDays })}
            />
            <div>
              <ChooseMedia
                label={labels.replay}
                kind="video"
                none={value.recording === null ? "Nothing yet" : "The recording"}
                value={value.replay}
                among={videos}
                onUploaded={(m) => setVideos([...videos, m])}
                onChange={(replay) => put({ replay })}
              />
            </div>
            <div className="sm:col-span-2">
              <ChaptersField value={value.chapters} onChange={(chapters) => put({ chapters })} />
            </div>
          </section>
          <section
            aria-label="Who counts as having attended"
            className="grid grid-cols-1 gap-3 border-t border-line pt-4 sm:grid-cols-2"
          >
            <h2 className="sm:col-span-2">Who counts as having attended</h2>
            <NumberField
              label="Attended: stayed for at least so many percent"
              value={value.attended}
              error={error("attended")}
              onChange={(attended) => put({ attended })}
            />
            <NumberField
              label="Missed: stayed for fewer minutes than"
              value={value.missed}
              error={error("missed")}
              hint="In between: left early."
              onChange={(missed) => put({ missed })}
            />
          </section>
          <p className="border-t border-line pt-4">
            <Button
              look="danger"
              disabled={busy}
              onClick={() =>
                start(async () => {
                  const done = await removeWebinarAction(id)
                  if (done.refused) setTrouble(done.refused)
                  else router.push("/studio/calendar/webinars")
                })
              }
            >
              Remove the webinar
            </Button>
            {trouble ? (
              <span role="alert" className="ml-3 font-semibold text-dusk">
                {trouble}
              </span>
            ) : null}
          </p>
        </div>
        <Dates id={id} webinar={value} toCome={toCome} behind={behind} />
      </div>
    </>
  )
}
