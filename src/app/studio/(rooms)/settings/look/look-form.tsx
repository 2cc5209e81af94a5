"use client"

import { useState } from "react"
import { lookKinds, lookNames } from "@/core/look/list"
import { type Look, type Mended, plainly, type Worn, wear } from "@/core/look/look"
import { type PairName, pairName, pairs } from "@/core/look/typeface"
import { longMoment } from "@/core/words/moment"
import type { PageNamed } from "@/server/funnel/look-view"
import { Button } from "@/ui/button"
import { option, SelectField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { ChooseMedia } from "../../page-editor/block/choose-media"
import { wearAction } from "../actions"
import { ColourField } from "./colour-field"
import { Drawn } from "./drawn"

type Props = {
  readonly now: Worn
  readonly before: readonly { readonly at: number; readonly worn: Worn }[]
  readonly pages: readonly PageNamed[]
  readonly pictures: readonly { readonly id: number; readonly name: string }[]
}

const same = (a: Worn, b: Worn) => JSON.stringify(a) === JSON.stringify(b)

/** One's own page in each look; what is the school's own in it; and each page before and after, until all of it is worn. */
export function LookForm({ now, before, pages, pictures: given }: Props) {
  const [worn, setWorn] = useState(now)
  const [step, setStep] = useState(pages[0]?.step ?? 0)
  const [phone, setPhone] = useState(false)
  const [pictures, setPictures] = useState(given)
  const [said, setSaid] = useState("")
  const { busy, run, refused } = useAction()
  const look = wear(worn)
  const put = (change: Partial<Worn>) => setWorn({ ...worn, ...change })
  const changed = !same(worn, now)
  const width = phone ? 390 : 1280
  return (
    <>
      <p className="mt-1 max-w-2xl text-soft">
        What visitors, buyers and learners see: pages, checkout, learning area, e-mails. Nothing changes until you wear
        it.
      </p>
      <fieldset className="mt-4">
        <legend className="sr-only">Look</legend>
        <div className="grid grid-cols-2 gap-4 md:grid-cols-3 xl:grid-cols-4">
          {lookNames.map((kind) => (
            <label
              key={kind}
              className="block cursor-pointer rounded-lg border border-line bg-card p-2 has-checked:border-slate has-checked:ring-2 has-checked:ring-slate has-focus-visible:outline-2"
            >
              <Drawn
                step={step}
                worn={{ ...worn, kind }}
                width={1280}
                height={800}
                name={`In ${lookKinds[kind].name}`}
              />
              <span className="mt-2 flex items-baseline gap-2">
                <input type="radio" name="kind" checked={worn.kind === kind} onChange={() => put({ kind })} />
                <span>
                  <strong className="font-semibold">{lookKinds[kind].name}</strong>
                  <span className="block text-note text-soft">{lookKinds[kind].says}</span>
                </span>
              </span>
            </label>
          ))}
        </div>
      </fieldset>

      <div className="mt-8 grid gap-8 lg:grid-cols-[19rem_minmax(0,1fr)]">
        <section aria-label="Your own" className="space-y-4">
          <h2>Your own</h2>
          <ChooseMedia
            label="Logo"
            kind="picture"
            none="None: the school’s name stands there"
            value={worn.logo}
            among={pictures}
            onUploaded={(p) => setPictures([{ id: p.id, name: p.name }, ...pictures])}
            onChange={(logo) => put({ logo })}
          />
          <ColourField
            label="Ground"
            value={worn.ground}
            own={look.bands.plain.ground}
            onChange={(ground) => put({ ground })}
          />
          <ColourField
            label="Action"
            value={worn.action}
            own={look.bands.plain.action}
            onChange={(action) => put({ action })}
          />
          <ColourField
            label="Dark bands"
            value={worn.third}
            own={look.bands.dark.ground}
            onChange={(third) => put({ third })}
          />
          <Mends look={look} />
          <SelectField
            label="Typefaces"
            value={worn.pair ?? ""}
            onChange={(e) => put({ pair: (e.target.value || null) as PairName | null })}
          >
            <option value="">As the look has them: {pairName(lookKinds[worn.kind].pair)}</option>
            {(Object.keys(pairs) as PairName[]).map((p) => option(p, pairName(p)))}
          </SelectField>
          <SelectField
            label="Corners"
            value={worn.corners ?? ""}
            onChange={(e) => put({ corners: (e.target.value || null) as Worn["corners"] })}
          >
            <option value="">As the look has them</option>
            <option value="none">None</option>
            <option value="small">Small</option>
            <option value="round">Round</option>
          </SelectField>
          {same(worn, plainly(worn.kind)) ? null : (
            <Button look="quiet" onClick={() => setWorn(plainly(worn.kind))}>
              Nothing of my own
            </Button>
          )}
        </section>

        <section aria-label="Before and after" className="min-w-0">
          <div className="flex flex-wrap items-end gap-3">
            <div className="min-w-56 flex-1">
              <SelectField label="Page" value={step} onChange={(e) => setStep(Number(e.target.value))}>
                {pages.map((p) => option(p.step, `${p.funnel}: ${p.name}${p.live ? "" : " (draft)"}`))}
              </SelectField>
            </div>
            <Button aria-pressed={phone} onClick={() => setPhone(!phone)}>
              {phone ? "Desktop" : "Phone"}
            </Button>
            <Button
              look="primary"
              disabled={busy || !changed}
              onClick={() =>
                run(
                  () => wearAction(worn, now),
                  (done) =>
                    "funnels" in done && setSaid(done.funnels ? `Worn, and ${done.funnels} published again.` : "Worn."),
                )
              }
            >
              Wear it
            </Button>
          </div>
          <Refusal className="mt-2">{refused}</Refusal>
          <p role="status" className="mt-2 text-note text-soft">
            {changed
              ? "Not worn yet. What is published is published again as it stands, in this look."
              : said || "This is worn now."}
          </p>
          <div className={`mt-3 grid gap-4 ${changed ? "grid-cols-2" : ""}`}>
            {changed ? (
              <figure className="min-w-0">
                <Drawn step={step} worn={now} width={width} height={phone ? 1100 : 1500} name="As it is worn now" />
                <figcaption className="mt-1 text-note text-soft">Now</figcaption>
              </figure>
            ) : null}
            <figure className="min-w-0">
              <Drawn step={step} worn={worn} width={width} height={phone ? 1100 : 1500} name="As chosen" />
              <figcaption className="mt-1 text-note text-soft">{changed ? "Then" : "Now"}</figcaption>
            </figure>
          </div>
          {before.length ? (
            <details className="mt-6">
              <summary className="cursor-pointer font-semibold">Worn before</summary>
              <ul className="mt-2">
                {before.map((b) => (
                  <li key={b.at} className="flex flex-wrap items-baseline gap-3 border-t border-line py-1.5">
                    <span>{lookKinds[b.worn.kind].name}</span>
                    <span className="text-soft">until {longMoment(b.at, "UTC")}</span>
                    <Button look="quiet" className="ml-auto min-h-8" onClick={() => setWorn(b.worn)}>
                      Choose it again
                    </Button>
                  </li>
                ))}
              </ul>
            </details>
          ) : null}
        </section>
      </div>
    </>
  )
}

const places: Readonly<Record<Mended["where"], string>> = {
  plain: "on the ground",
  tinted: "on tinted bands",
  dark: "on dark bands",
  first: "on the first screen",
}

/** Colours that couldn't be told from what they stand on, and what they became. */
function Mends({ look }: { look: Look }) {
  if (!look.mended.length) return null
  return (
    <ul role="status" className="space-y-2 text-note">
      {look.mended.map((m) => (
        <li key={m.what + m.where} className="flex items-center gap-2">
          <Chip colour={m.was} /> <span aria-hidden>→</span>{" "}
          {m.now ? <Chip colour={m.now} /> : <strong className="text-dusk">nothing can be read here</strong>}
          <span className="text-soft">{places[m.where]}</span>
        </li>
      ))}
    </ul>
  )
}

const Chip = ({ colour }: { colour: string }) => (
  <span className="inline-flex items-center gap-1.5 tabular-nums">
    <span className="size-5 rounded border border-line" style={{ background: colour }} />
    {colour}
  </span>
)
