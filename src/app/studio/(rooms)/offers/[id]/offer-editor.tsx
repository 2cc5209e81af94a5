"use client"

import { useRouter } from "next/navigation"
import { useRef, useState } from "react"
import { Temporal } from "temporal-polyfill"
import { type Gift, giftAsTyped } from "@/core/offer/gift/list"
import { currencies } from "@/core/offer/money"
import type { Offer } from "@/core/offer/offer"
import type { OfferInput } from "@/server/offer/offer"
import type { Use } from "@/server/reference"
import { Button } from "@/ui/button"
import { Confirm } from "@/ui/confirm"
import { binder, SelectField, TextArea, TextField } from "@/ui/field"
import { NameLink, TextLink } from "@/ui/link"
import { saveWords, useSaved } from "@/ui/use-saved"
import { type EditorMedia, MediaField } from "../../courses/[id]/media-field"
import { removeOfferAction, saveOfferAction } from "../actions"
import { draftOf, type TermsDraft, termsOf } from "../terms-draft"
import { GiftList } from "./gift-list"
import { TermsEditor } from "./terms-editor"

export type Rules = {
  readonly currency: string
  readonly tax: { rate: number; included: boolean }
  readonly zone: string
}

type Props = {
  readonly offer: Offer
  readonly revision: number
  /** The offer as it is saved. */
  readonly stored: OfferInput
  readonly gone: number
  readonly rules: Rules
  readonly now: number
  readonly courses: readonly { id: number; title: string; state: string }[]
  readonly media: readonly EditorMedia[]
  readonly offers: readonly { id: number; name: string }[]
  /** Its own link, where a live checkout sells it. */
  readonly link: string | null
  readonly used: readonly Use[]
}

type Draft = {
  readonly publicName: string
  readonly internalName: string
  readonly promise: string
  readonly pictureId: number | null
  readonly currency: Offer["currency"]
  readonly gifts: readonly Gift[]
  readonly terms: readonly TermsDraft[]
  readonly pieces: string
  readonly perPerson: string
  readonly from: string
  readonly until: string
  readonly hidden: boolean
  readonly afterFailure: Offer["afterFailure"]
  readonly refundDays: string
}

const fieldNames: Readonly<Record<string, string>> = {
  publicName: "label buyers see",
  internalName: "name in the studio",
  promise: "what it does for them",
  pictureId: "picture",
  currency: "currency",
  gifts: "what it gives",
  terms: "how it is paid",
  pieces: "quantity available",
  perPerson: "limit for one person",
  from: "beginning",
  until: "end",
  hidden: "hidden or not",
  afterFailure: "what becomes of the access",
  refundDays: "the refund",
}

/** An instant as a date-and-time field in the school's zone shows it, and back; "" is none. */
const wall = (at: number | null, zone: string) =>
  at === null
    ? ""
    : Temporal.Instant.fromEpochMilliseconds(at)
        .toZonedDateTimeISO(zone)
        .toPlainDateTime()
        .toString({ smallestUnit: "minute" })
const instant = (text: string, zone: string) =>
  text === "" ? null : Temporal.PlainDateTime.from(text).toZonedDateTime(zone).epochMilliseconds

export function OfferEditor({
  offer,
  revision,
  stored,
  gone,
  rules,
  now,
  courses,
  media: given,
  offers,
  used,
  link,
}: Props) {
  const [d, set] = useState<Draft>({
    ...offer,
    terms: offer.terms.map((t) => draftOf(t, offer.currency)),
    pieces: offer.pieces === null ? "" : String(offer.pieces),
    perPerson: offer.perPerson === null ? "" : String(offer.perPerson),
    from: wall(offer.from, rules.zone),
    until: wall(offer.until, rules.zone),
    refundDays: offer.refundDays === null ? "" : String(offer.refundDays),
  })
  const [media, setMedia] = useState(given)
  // Ways to pay that were new when typed learn their numbers when they are saved.
  const ids = useRef(new Map<string, number>())
  /** What stood when last heard of. */
  const known = useRef<{ revision: number; value: OfferInput }>({ revision, value: stored })
  const [clash, setClash] = useState<{ fields: readonly string[]; revision: number } | null>(null)
  const router = useRouter()

  const saved = useSaved(d, async (v) => {
    const terms = v.terms.map((t) => ({ t, read: termsOf(t, v.currency) }))
    const wrong = terms.find((x) => "says" in x.read)
    if (wrong && "says" in wrong.read)
      return { refused: wrong.read.says, field: `terms.${wrong.t.key}.${wrong.read.field}` }
    const input: OfferInput = {
      id: offer.id,
      publicName: v.publicName,
      internalName: v.internalName,
      promise: v.promise,
      pictureId: v.pictureId,
      currency: v.currency,
      gifts: v.gifts.map(giftAsTyped),
      terms: terms.map(({ t, read }) => ({
        id: t.id ?? ids.current.get(t.key) ?? null,
        name: t.name,
        terms: (read as Extract<typeof read, { terms: unknown }>).terms,
      })),
      pieces: v.pieces.trim() === "" ? null : Number(v.pieces),
      perPerson: v.perPerson.trim() === "" ? null : Number(v.perPerson),
      from: instant(v.from, rules.zone),
      until: instant(v.until, rules.zone),
      hidden: v.hidden,
      afterFailure: v.afterFailure,
      refundDays: v.refundDays.trim() ? Number(v.refundDays) : null,
    }
    const done = await saveOfferAction(input, known.current)
    if ("refused" in done) {
      if (done.clash) setClash({ fields: done.clash, revision: done.revision! })
      return { refused: done.refused, field: done.field }
    }
    setClash(null)
    done.terms.forEach((id, i) => {
      const key = v.terms[i]?.key
      if (key) ids.current.set(key, id)
    })
    known.current = {
      revision: done.revision,
      value: { ...input, terms: input.terms.map((t, i) => ({ ...t, id: done.terms[i]! })) },
    }
    // What another window changed came in: the page shows it.
    if (done.merged) router.refresh()
    return null
  })
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  const placed =
    typeof saved === "object" &&
    saved.field !== undefined &&
    ["publicName", "internalName", "promise", "pieces", "perPerson", "from", "until", "gifts"].includes(saved.field)
  const goesOn = d.terms.some((t) => t.kind === "instalments" || t.kind === "subscription")
  const leftWords =
    d.pieces.trim() === "" || Number.isNaN(Number(d.pieces))
      ? "Empty: as many as are asked for."
      : `${Math.max(0, Number(d.pieces) - gone)} left; ${gone} sold or being paid for.`

  const typed = binder(d, set, error)
  return (
    <>
      <div className="mt-4 flex items-center justify-between gap-4">
        <h1 className="truncate">{d.internalName || d.publicName || "An offer"}</h1>
        <span
          role="status"
          className={`text-note ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {typeof saved === "object" && (placed || saved.field?.startsWith("terms."))
            ? "Not saved yet: see below."
            : saveWords(saved)}
        </span>
      </div>
      {clash ? (
        <div role="alert" className="mt-3 flex items-center gap-3 rounded-md border border-amber bg-amber-wash p-3">
          <p>Another window has changed the same: {clash.fields.map((f) => fieldNames[f] ?? f).join(", ")}.</p>
          <Button
            onClick={() => {
              known.current = { ...known.current, revision: clash.revision }
              setClash(null)
              set({ ...d })
            }}
          >
            Keep mine
          </Button>
          <Button onClick={() => window.location.reload()}>Take the other</Button>
        </div>
      ) : null}
      <div className="mt-3 grid grid-cols-1 gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.25fr)]">
        <div className="space-y-7">
          <section aria-label="What it is" className="space-y-3">
            <h2>What it is</h2>
            <TextField label="Label buyers see" {...typed("publicName")} maxLength={120} />
            <TextField
              label="Name in the studio"
              {...typed("internalName")}
              maxLength={120}
              placeholder={d.publicName}
              hint="If it should be another one."
            />
            <TextArea
              label="What it does for them, in a sentence or two"
              error={error("promise")}
              rows={2}
              maxLength={400}
              value={d.promise}
              onChange={(e) => set({ ...d, promise: e.target.value.replace(/\n/g, " ") })}
            />
            <MediaField
              kind="picture"
              label="Picture"
              value={d.pictureId}
              media={media}
              onChange={(pictureId) => set({ ...d, pictureId })}
              onUploaded={(m) => setMedia([m, ...media])}
            />
          </section>
          <section aria-label="What it gives" className="space-y-2">
            <h2>What it gives</h2>
            <GiftList
              gifts={d.gifts}
              courses={courses}
              media={media}
              offers={offers}
              error={error("gifts")}
              onChange={(gifts) => set({ ...d, gifts })}
              onUploaded={(m) => setMedia([m, ...media])}
            />
          </section>
          <section aria-label="Limits" className="space-y-3">
            <h2>Limits</h2>
            <div className="grid grid-cols-2 gap-3">
              <TextField label="Quantity available" inputMode="numeric" {...typed("pieces")} hint={leftWords} />
              <TextField label="Limit per person" inputMode="numeric" {...typed("perPerson")} hint="Empty: no limit." />
              <TextField label="From" type="datetime-local" {...typed("from")} />
              <TextField label="Until" type="datetime-local" {...typed("until")} hint={`Times of ${rules.zone}.`} />
            </div>
            <label className="flex items-baseline gap-2">
              <input
                type="checkbox"
                className="accent-slate"
                checked={d.hidden}
                onChange={(e) => set({ ...d, hidden: e.target.checked })}
              />
              Hidden: learners don't see it among what else there is; to be had by its link
            </label>
            {link ? (
              <p className="text-body">
                Its link:{" "}
                <a className="text-slate underline [overflow-wrap:anywhere]" href={link}>
                  {link}
                </a>
              </p>
            ) : null}
          </section>
        </div>

        <div className="space-y-7">
          <section aria-label="How it is paid">
            <div className="flex items-start justify-between gap-4">
              <h2>How it is paid</h2>
              <SelectField
                label="Currency"
                value={d.currency}
                onChange={(e) => set({ ...d, currency: e.target.value as Offer["currency"] })}
              >
                {currencies.map((c) => (
                  <option key={c}>{c}</option>
                ))}
              </SelectField>
            </div>
            <TermsEditor
              terms={d.terms}
              currency={d.currency}
              rules={rules}
              now={now}
              error={error}
              onChange={(terms) => set({ ...d, terms })}
            />
          </section>
          <TextField
            label="Money back within, days"
            inputMode="numeric"
            value={d.refundDays}
            onChange={(e) => set({ ...d, refundDays: e.target.value })}
            error={error("refundDays")}
            hint={d.refundDays.trim() ? "Pages and the checkout say so." : "Nothing is promised."}
          />
          {goesOn ? (
            <SelectField
              label="When a card is refused for the last time (after 1, 3 and 7 days)"
              value={d.afterFailure}
              onChange={(e) => set({ ...d, afterFailure: e.target.value as Offer["afterFailure"] })}
            >
              <option value="ends">what it gave is closed</option>
              <option value="stays">what it gave stays open</option>
            </SelectField>
          ) : null}
          <section aria-label="Where it is used">
            <h2>Where it is used</h2>
            {used.length === 0 ? (
              <p className="mt-1 text-body">
                In no funnel yet.{" "}
                <TextLink href={`/studio/funnels/new?offer=${offer.id}`}>Make one that sells it</TextLink>
              </p>
            ) : (
              <ul className="mt-1">
                {used.map((u) => (
                  <li key={`${u.href}${u.use}`}>
                    <NameLink href={u.href}>{u.says}</NameLink> <span className="text-soft">{u.use}</span>
                  </li>
                ))}
              </ul>
            )}
          </section>
          <Confirm
            opens="Remove this offer"
            title={`Remove “${d.publicName}”?`}
            does="Remove it"
            keeps="Keep it"
            act={() => removeOfferAction(offer.id)}
          >
            Nobody can have it any more. What was sold of it stays, and so does what goes on being paid for it.
          </Confirm>
        </div>
      </div>
    </>
  )
}
