"use client"

import type { Funnel, Step } from "@/core/funnel/draft"
import { outcomes, outcomesOf } from "@/core/funnel/kinds"
import type { Block, Target } from "@/core/page/document"
import { Button } from "@/ui/button"
import { Field, SelectField, TextField } from "@/ui/field"
import { RichText } from "@/ui/rich-text"
import { Upload } from "../../../../upload"

export type EditorPicture = {
  readonly id: number
  readonly name: string
  readonly url: string
  readonly width: number
  readonly height: number
}

export type EditorVideo = {
  readonly id: number
  readonly name: string
  readonly url: string
  readonly type: string
}

type Props = {
  readonly block: Block
  readonly step: Step
  readonly funnel: Funnel
  readonly pictures: readonly EditorPicture[]
  readonly courses: readonly { id: number; title: string }[]
  readonly videos: readonly EditorVideo[]
  readonly offers: readonly { readonly id: number; readonly name: string }[]
  readonly onPicture: (picture: EditorPicture) => void
  readonly onVideo: (video: EditorVideo) => void
  /** `run` names the field, so that typing in it is one step back. */
  readonly onChange: (change: Partial<Block>, run: string) => void
}

export function BlockSettings(p: Props) {
  const { block, step, funnel, pictures, videos, courses, offers, onPicture, onVideo, onChange } = p
  const bumpable = (id: number) =>
    block.kind === "checkout" && id !== step.offerId && !block.bumps.some((b) => b.offer === id)
  switch (block.kind) {
    case "headline":
      return (
        <Field label="Says">
          {(p) => (
            <textarea
              {...p}
              rows={3}
              maxLength={300}
              value={block.text}
              onChange={(e) => onChange({ text: e.target.value.replace(/\n/g, " ") }, "text")}
            />
          )}
        </Field>
      )
    case "text":
      return <RichText label="Says" value={block.html} onChange={(html) => onChange({ html }, "html")} />
    case "list":
      return (
        <Field label="Points, one per line">
          {(p) => (
            <textarea
              {...p}
              rows={8}
              value={block.items.join("\n")}
              onChange={(e) =>
                onChange(
                  {
                    items: e.target.value
                      .split("\n")
                      .slice(0, 40)
                      .map((i) => i.slice(0, 300)),
                  },
                  "items",
                )
              }
            />
          )}
        </Field>
      )
    case "picture":
      return (
        <div className="space-y-3">
          <SelectField
            label="Picture"
            value={block.media ?? ""}
            onChange={(e) => onChange({ media: Number(e.target.value) || null }, "media")}
          >
            <option value="">None yet</option>
            {pictures.map((x) => (
              <option key={x.id} value={x.id}>
                {x.name}
              </option>
            ))}
          </SelectField>
          <Upload
            kind="picture"
            onDone={(done) => {
              const image = new Image()
              image.onload = () => {
                onPicture({
                  id: done.id,
                  name: done.name,
                  url: done.url,
                  width: image.naturalWidth,
                  height: image.naturalHeight,
                })
                onChange({ media: done.id }, "media")
              }
              image.src = done.url
            }}
          />
          <TextField
            label="What it shows, for those who can't see it"
            value={block.alt}
            maxLength={300}
            onChange={(e) => onChange({ alt: e.target.value }, "alt")}
          />
        </div>
      )
    case "button":
      return (
        <div className="space-y-3">
          <SelectField
            label="Leads to"
            value={targetKey(block.leads)}
            onChange={(e) => onChange({ leads: targetOf(e.target.value) }, "leads")}
            error={block.leads === null ? "It leads nowhere yet." : undefined}
          >
            <option value="">Nowhere yet</option>
            {outcomesOf(step.kind).includes("joined") ? <option value="form">the form on this page</option> : null}
            {outcomesOf(step.kind)
              .filter((o) => o !== "joined" && o !== "confirmed")
              .map((o) => (
                <option key={o} value={`outcome:${o}`}>
                  onward: whoever {outcomes[o].verb}
                </option>
              ))}
            {funnel.steps
              .filter((s) => s.id !== step.id)
              .map((s) => (
                <option key={s.id} value={`step:${s.id}`}>
                  the step: {s.name}
                </option>
              ))}
          </SelectField>
          <TextField
            label="Says"
            value={block.says}
            maxLength={300}
            onChange={(e) => onChange({ says: e.target.value }, "says")}
          />
        </div>
      )
    case "form":
      return (
        <div className="space-y-3">
          <TextField
            label="Button text"
            value={block.says}
            maxLength={300}
            onChange={(e) => onChange({ says: e.target.value }, "says")}
          />
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-slate"
              checked={block.askName}
              onChange={(e) => onChange({ askName: e.target.checked }, "askName")}
            />{" "}
            Ask for the first name
          </label>
          <div>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="accent-slate"
                checked={block.confirm}
                aria-describedby={`${block.id}-confirm`}
                onChange={(e) => onChange({ confirm: e.target.checked }, "confirm")}
              />{" "}
              Begin only after the press in their mailbox
            </label>
            <p id={`${block.id}-confirm`} className="mt-1 text-[0.84rem] text-soft">
              {block.confirm
                ? "Double opt-in: proof that the address is theirs, kept with the consent."
                : "The e-mails begin at once for a new address, though anybody can have typed it."}
            </p>
          </div>
          <Field label="Consent" hint="These words are kept with each person's consent.">
            {(p) => (
              <textarea
                {...p}
                rows={5}
                maxLength={600}
                value={block.consent}
                onChange={(e) => onChange({ consent: e.target.value }, "consent")}
              />
            )}
          </Field>
        </div>
      )
    case "lessons":
      return (
        <SelectField
          label="Lessons of"
          value={block.course ?? ""}
          onChange={(e) => onChange({ course: Number(e.target.value) || null }, "course")}
          hint="Titles and lengths come from the course."
        >
          <option value="">No course yet</option>
          {courses.map((c) => (
            <option key={c.id} value={c.id}>
              {c.title}
            </option>
          ))}
        </SelectField>
      )
    case "video":
      return (
        <div className="space-y-3">
          <SelectField
            label="Video"
            value={block.media ?? ""}
            onChange={(e) => onChange({ media: Number(e.target.value) || null }, "media")}
            hint="It plays by itself, without sound, until somebody turns it on."
          >
            <option value="">None yet</option>
            {videos.map((x) => (
              <option key={x.id} value={x.id}>
                {x.name}
              </option>
            ))}
          </SelectField>
          <Upload
            kind="video"
            onDone={(done) => {
              onVideo({ id: done.id, name: done.name, url: done.url, type: "video/mp4" })
              onChange({ media: done.id }, "media")
            }}
          />
          <TextField
            label="What it shows, for those who can't see it"
            value={block.says}
            maxLength={300}
            onChange={(e) => onChange({ says: e.target.value }, "says")}
          />
        </div>
      )
    case "price":
      return (
        <SelectField
          label="Price of"
          value={block.offer ?? ""}
          onChange={(e) => onChange({ offer: Number(e.target.value) || null }, "offer")}
          hint="The sentence comes from the offer's terms; nothing else says a price."
          error={block.offer === null ? "No offer yet." : undefined}
        >
          <option value="">No offer yet</option>
          {offers.map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
        </SelectField>
      )
    case "checkout":
      return (
        <div className="space-y-3">
          <TextField
            label="Button text, where nothing is paid"
            value={block.says}
            maxLength={300}
            onChange={(e) => onChange({ says: e.target.value }, "says")}
            hint="Where something is paid, it says the amount."
          />
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-slate"
              checked={block.askName}
              onChange={(e) => onChange({ askName: e.target.checked }, "askName")}
            />{" "}
            Ask for the first name
          </label>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-slate"
              checked={block.askCoupon}
              onChange={(e) => onChange({ askCoupon: e.target.checked }, "askCoupon")}
            />{" "}
            Take a coupon
          </label>
          <fieldset className="min-w-0 space-y-2 border-t border-line pt-2">
            <legend className="text-[0.87rem] font-semibold">Order bumps: to tick, up to three</legend>
            {block.bumps.map((b, i) => (
              <div key={b.offer} className="space-y-1.5">
                <div className="flex items-end gap-2">
                  <div className="min-w-0 flex-1">
                    <SelectField
                      label={`Bump ${i + 1}`}
                      value={b.offer}
                      onChange={(e) =>
                        onChange(
                          {
                            bumps: block.bumps.map((x) => (x === b ? { ...x, offer: Number(e.target.value) } : x)),
                          },
                          `bump${i}`,
                        )
                      }
                    >
                      {offers
                        .filter((o) => o.id === b.offer || bumpable(o.id))
                        .map((o) => (
                          <option key={o.id} value={o.id}>
                            {o.name}
                          </option>
                        ))}
                    </SelectField>
                  </div>
                  <Button
                    aria-label={`Take bump ${i + 1} out`}
                    onClick={() => onChange({ bumps: block.bumps.filter((x) => x !== b) }, "")}
                  >
                    ×
                  </Button>
                </div>
                <TextField
                  label="Short description"
                  value={b.says}
                  maxLength={300}
                  onChange={(e) =>
                    onChange(
                      { bumps: block.bumps.map((x) => (x === b ? { ...x, says: e.target.value } : x)) },
                      `bumpsays${i}`,
                    )
                  }
                />
              </div>
            ))}
            {block.bumps.length < 3 && offers.some((o) => bumpable(o.id)) ? (
              <SelectField
                label="Add a bump"
                value=""
                onChange={(e) => onChange({ bumps: [...block.bumps, { offer: Number(e.target.value), says: "" }] }, "")}
              >
                <option value="" disabled>
                  Choose an offer…
                </option>
                {offers
                  .filter((o) => bumpable(o.id))
                  .map((o) => (
                    <option key={o.id} value={o.id}>
                      {o.name}
                    </option>
                  ))}
              </SelectField>
            ) : null}
          </fieldset>
          <Field
            label="Consent to be written to, should they stop"
            hint="Empty: they are not asked, and not written to. The words are kept with each person's consent."
          >
            {(p) => (
              <textarea
                {...p}
                rows={4}
                maxLength={600}
                value={block.consent}
                onChange={(e) => onChange({ consent: e.target.value }, "consent")}
              />
            )}
          </Field>
        </div>
      )
    case "decision":
      return (
        <div className="space-y-3">
          <TextField
            label="Accept button"
            value={block.accept}
            maxLength={300}
            onChange={(e) => onChange({ accept: e.target.value }, "accept")}
            hint="What it costs is added by itself."
          />
          <TextField
            label="Decline link"
            value={block.decline}
            maxLength={300}
            onChange={(e) => onChange({ decline: e.target.value }, "decline")}
            hint="Plainly, and without shame."
          />
        </div>
      )
    case "proof":
      return (
        <p className="text-[0.95rem]">
          Here a buyer reads what they bought, what they pay and when, and finds the button that opens it. It is made
          from their order.
        </p>
      )
    case "section":
      return (
        <SelectField
          label="Background"
          value={block.tone}
          onChange={(e) => onChange({ tone: e.target.value as "plain" }, "tone")}
          hint="Move a part of the page past it, and it goes inside."
        >
          <option value="plain">Plain</option>
          <option value="tinted">Tinted</option>
        </SelectField>
      )
  }
}

function targetKey(t: Target | null): string {
  if (!t) return ""
  return t.to === "form" ? "form" : t.to === "step" ? `step:${t.step}` : `outcome:${t.outcome}`
}

function targetOf(key: string): Target | null {
  const [to, what] = key.split(":")
  if (to === "form") return { to }
  if (to === "step") return { to, step: Number(what) }
  return to === "outcome" ? { to, outcome: what as "started" } : null
}
