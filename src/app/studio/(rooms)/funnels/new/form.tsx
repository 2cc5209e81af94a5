"use client"

import { useState } from "react"
import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { option, SelectField } from "@/ui/field"
import { TextLink } from "@/ui/link"
import { OnceField } from "@/ui/once"
import { Refusal } from "@/ui/refusal"
import { newFunnelAction } from "../actions"

const later = ["a membership"]

type OfferChoice = { readonly id: number; readonly name: string; readonly gives: string }

export function NewFunnelForm({
  courses,
  offers,
  webinars,
  programmes,
  offer,
}: {
  courses: readonly { id: number; title: string; lessons: number }[]
  offers: readonly OfferChoice[]
  webinars: readonly { readonly id: number; readonly name: string }[]
  /** Offers that have a programme for affiliates. */
  programmes: readonly { readonly id: number; readonly name: string }[]
  /** The offer that was asked for, if any. */
  offer: number | null
}) {
  const [state, act, busy] = usePageAct(newFunnelAction, {})
  const [goal, setGoal] = useState(offer || courses.length === 0 ? "sell-course" : "mini-course")
  const missing =
    goal === "sell-course" && !offers.some((o) => o.gives)
      ? "Make an offer first: there is nothing yet that could be sold."
      : goal === "mini-course" && courses.length === 0
        ? "Write a course first: there is nothing yet that could be given away."
        : goal === "fill-webinar" && webinars.length === 0
          ? "Make a webinar first, in the calendar: a title, a date and the offer it leads to."
          : goal === "affiliates" && programmes.length === 0
            ? "Set up a programme first, under Affiliates: what you pay for recommending an offer."
            : null
  return (
    <form action={act} className="mt-5 space-y-7">
      <OnceField told={state} />
      <Refusal>{state.refused}</Refusal>
      <fieldset className="min-w-0">
        <legend className="mb-2 text-lg font-semibold">What should people end up with?</legend>
        {(
          [
            ["mini-course", "a free mini-course", ", for their e-mail address"],
            ["fill-webinar", "a seat at a webinar", ", and then what it leads to"],
            ["sell-course", "a paid course, or a file", ", and perhaps one more thing after it"],
            ["affiliates", "a link of their own", ", to recommend an offer for a commission"],
            ["catalogue", "a choice", " of your courses and offers, with waiting lists"],
          ] as const
        ).map(([value, what, how]) => (
          <label key={value} className="flex items-baseline gap-2.5 border-t border-line py-2.5">
            <input
              type="radio"
              name="goal"
              value={value}
              checked={goal === value}
              onChange={() => setGoal(value)}
              className="accent-slate"
            />
            <span>
              <strong>{what}</strong>
              {how}
            </span>
          </label>
        ))}
        {later.map((what) => (
          <label key={what} className="flex items-baseline gap-2.5 border-t border-line py-2.5 text-soft">
            <input type="radio" name="goal" value={what} disabled />
            <span>{what}: comes later</span>
          </label>
        ))}
      </fieldset>
      {goal === "mini-course" ? (
        <WhichCourse courses={courses} />
      ) : goal === "fill-webinar" ? (
        <SelectField label="Which webinar?" name="webinar">
          {webinars.map((w) => option(w.id, w.name))}
        </SelectField>
      ) : goal === "affiliates" ? (
        <SelectField label="Which offer?" name="offer">
          {programmes.map((p) => option(p.id, p.name))}
        </SelectField>
      ) : goal === "catalogue" ? null : (
        <WhichOffers offers={offers} offer={offer} />
      )}
      <div>
        <Button type="submit" look="primary" disabled={busy || missing !== null}>
          Make the funnel
        </Button>
        {missing ? <p className="mt-2 text-body text-amber-text">{missing}</p> : null}
        <p className="mt-2 text-note text-soft">
          {goal === "mini-course"
            ? "It makes the opt-in page, “check your inbox”, the welcome page and an e-mail for each lesson, wired and written."
            : goal === "fill-webinar"
              ? "It makes the registration page, the page that shows the seat, and the sale of the offer that the webinar leads to, wired and written."
              : goal === "affiliates"
                ? "It makes the sign-up page, “check your inbox”, and the way to their affiliate page, wired and written."
                : goal === "catalogue"
                  ? "It makes the catalogue of what there is now, “check your inbox”, and the page for whoever waits, wired and written."
                  : "It makes the sales page, the checkout, a page for each upsell and downsell, the welcome page, and two e-mails for those who began to pay and stopped, wired and written."}{" "}
          Nobody sees any of it until you publish.
        </p>
      </div>
    </form>
  )
}

function WhichCourse({ courses }: { courses: readonly { id: number; title: string; lessons: number }[] }) {
  return (
    <fieldset className="min-w-0">
      <legend className="mb-2 text-lg font-semibold">Which course?</legend>
      {courses.map((c, i) => (
        <label key={c.id} className="flex items-baseline gap-2.5 border-t border-line py-2.5">
          <input
            type="radio"
            name="course"
            value={c.id}
            defaultChecked={i === courses.findIndex((x) => x.lessons > 0)}
            className="accent-slate"
          />
          <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">{c.title}</span>
          <span className="text-soft">{c.lessons === 1 ? "1 lesson" : `${c.lessons} lessons`}</span>
        </label>
      ))}
    </fieldset>
  )
}

function WhichOffers({ offers, offer }: { offers: readonly OfferChoice[]; offer: number | null }) {
  const sold = offers.filter((o) => o.gives)
  const [main, setMain] = useState(offer ?? sold[0]?.id ?? 0)
  const [further, setFurther] = useState(0)
  if (sold.length === 0)
    return (
      <p className="text-lg">
        There is no offer yet that gives something. <TextLink href="/studio/offers?new">Make one</TextLink>: a name,
        what it gives and a price are enough.
      </p>
    )
  const others = offers.filter((o) => o.id !== main)
  return (
    <fieldset className="min-w-0 space-y-4">
      <legend className="mb-2 text-lg font-semibold">Which offers?</legend>
      <SelectField
        label="What is sold"
        name="offer"
        value={main}
        onChange={(e) => {
          setMain(Number(e.target.value))
          setFurther(0)
        }}
        hint={`It gives: ${sold.find((o) => o.id === main)?.gives ?? ""}`}
      >
        {sold.map((o) => option(o.id, o.name))}
      </SelectField>
      <SelectField
        label="Upsell, right after it"
        name="further"
        value={further}
        onChange={(e) => setFurther(Number(e.target.value))}
        hint="Related to what was just bought. One or two are enough."
      >
        <option value={0}>nothing</option>
        {others.map((o) => option(o.id, o.name))}
      </SelectField>
      {further ? (
        <SelectField
          label="Downsell, for whoever declines it"
          name="second"
          defaultValue={0}
          hint="Something that costs clearly less."
        >
          <option value={0}>nothing: they are let in</option>
          {others.filter((o) => o.id !== further).map((o) => option(o.id, o.name))}
        </SelectField>
      ) : null}
    </fieldset>
  )
}
