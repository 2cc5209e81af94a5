"use client"

import { useRouter } from "next/navigation"
import { type Notice, noticePlaces, type Place } from "@/core/course/notice"
import type { NoticeChoices } from "@/server/notice/notice-view"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Clash } from "@/ui/clash"
import { option, SelectField, TextArea, TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { NoticeCard } from "../../../../../learn/notice-card"
import { SegmentEditor } from "../../../segment-editor/segment-editor"
import { removeNoticeAction, saveNoticeAction } from "../../actions"
import { placeWords } from "../words"

/** What a notice may ask about whoever comes by. */
const asked = ["signed-in", "tag", "course", "bought", "progress"] as const

const labels = {
  title: "Title",
  body: "Text",
  button: "Button",
  leads: "Where the button leads",
  place: "Where it is shown",
  course: "Course",
  segment: "For whom",
  from: "From",
  until: "To",
  most: "At most",
  live: "On",
}

export function NoticeEditor({
  id,
  notice,
  choices,
  hidden,
}: {
  id: number
  notice: Versioned<Notice>
  choices: NoticeChoices
  /** Why nobody sees it, in words. */
  hidden: string
}) {
  const router = useRouter()
  const { busy, run } = useAction()
  const {
    value: n,
    set,
    saved,
    clash,
  } = useShared(notice, async (value, before) => {
    const done = await saveNoticeAction(id, value, before)
    if ("value" in done) router.refresh()
    return done
  })
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  const target = n.leads ? `${n.leads.to}:${n.leads.id}` : ""
  return (
    <div className="mt-2 grid grid-cols-1 gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <section aria-label="The notice" className="space-y-4">
        <p role="status" className={`text-note ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}>
          {saveWords(saved)}
        </p>
        <Clash clash={clash} labels={labels} />
        <TextField
          label="Title"
          value={n.title}
          maxLength={160}
          error={error("title")}
          onChange={(e) => set({ ...n, title: e.target.value })}
        />
        <TextArea
          label="Text"
          rows={3}
          maxLength={600}
          value={n.body}
          onChange={(e) => set({ ...n, body: e.target.value })}
        />
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <SelectField
            label="Its button leads to"
            value={target}
            onChange={(e) => {
              const [to, of] = e.target.value.split(":")
              set({ ...n, leads: of ? ({ to, id: Number(of) } as Notice["leads"]) : null })
            }}
          >
            <option value="">Nowhere: no button</option>
            <optgroup label="An offer">
              {choices.offers.map((o) => (
                <option key={o.id} value={`offer:${o.id}`}>
                  {o.name}
                </option>
              ))}
            </optgroup>
            <optgroup label="A page">
              {choices.steps.map((x) => (
                <option key={x.id} value={`step:${x.id}`}>
                  {x.name}
                  {x.live ? "" : " (not live)"}
                </option>
              ))}
            </optgroup>
            <optgroup label="A course">
              {choices.courses.map((c) => (
                <option key={c.id} value={`course:${c.id}`}>
                  {c.name}
                </option>
              ))}
            </optgroup>
          </SelectField>
          {n.leads ? (
            <TextField
              label="The button says"
              value={n.button}
              maxLength={60}
              placeholder="See it"
              onChange={(e) => set({ ...n, button: e.target.value })}
            />
          ) : null}
        </div>
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <SelectField label="Shown" value={n.place} onChange={(e) => set({ ...n, place: e.target.value as Place })}>
            {noticePlaces.map((p) => option(p, placeWords[p]))}
          </SelectField>
          {n.place === "lesson" ? (
            <SelectField
              label="Of"
              value={n.course ?? ""}
              onChange={(e) => set({ ...n, course: Number(e.target.value) || null })}
            >
              <option value="">Every course</option>
              {choices.courses.map((c) => option(c.id, c.name))}
            </SelectField>
          ) : null}
        </div>
        <SegmentEditor
          kinds={asked}
          value={n.segment}
          choices={choices}
          onChange={(segment) => set((now) => ({ ...now, segment }))}
        />
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
          <TextField
            label="From"
            type="date"
            value={n.from ?? ""}
            error={error("from")}
            onChange={(e) => set({ ...n, from: e.target.value || null })}
          />
          <TextField
            label="To, with that day"
            type="date"
            value={n.until ?? ""}
            error={error("until")}
            onChange={(e) => set({ ...n, until: e.target.value || null })}
          />
          <TextField
            label="Shown to one person, times"
            type="number"
            min={1}
            value={n.most ?? ""}
            placeholder="Any number"
            error={error("most")}
            onChange={(e) => set({ ...n, most: Number.isNaN(e.target.valueAsNumber) ? null : e.target.valueAsNumber })}
          />
        </div>
        <Check checked={n.live} onChange={(live) => set((now) => ({ ...now, live }))}>
          On: it is shown
        </Check>
        {hidden ? (
          <p role="status" className="font-semibold text-amber-text">
            {hidden}
          </p>
        ) : null}
        <p className="border-t border-line pt-4">
          <Button
            look="danger"
            disabled={busy}
            onClick={() =>
              run(
                () => removeNoticeAction(id),
                () => router.push("/studio/courses/notices"),
              )
            }
          >
            Remove the notice
          </Button>
        </p>
      </section>
      <section aria-label="How it looks">
        <h2 className="text-base">How it looks</h2>
        <div className="mt-2">
          <NoticeCard title={n.title} body={n.body} button={n.leads ? n.button || "See it" : ""} href={null} />
        </div>
      </section>
    </div>
  )
}
