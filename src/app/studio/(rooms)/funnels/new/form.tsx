"use client"

import { useActionState } from "react"
import { Button } from "@/ui/button"
import { newFunnelAction } from "../actions"

const later = ["a place in a webinar", "a paid course", "a membership"]

export function NewFunnelForm({ courses }: { courses: readonly { id: number; title: string; lessons: number }[] }) {
  const [state, act, busy] = useActionState(newFunnelAction, {})
  return (
    <form action={act} className="mt-5 space-y-7">
      {state.refused ? (
        <p role="alert" className="font-semibold text-dusk">
          {state.refused}
        </p>
      ) : null}
      <fieldset className="min-w-0">
        <legend className="mb-2 text-lg font-semibold">What should people end up with?</legend>
        <label className="flex items-baseline gap-2.5 border-t border-line py-2.5">
          <input type="radio" name="goal" value="mini-course" defaultChecked className="accent-slate" />
          <span>
            <strong>a free mini-course</strong>, for their e-mail address
          </span>
        </label>
        {later.map((what) => (
          <label key={what} className="flex items-baseline gap-2.5 border-t border-line py-2.5 text-soft">
            <input type="radio" name="goal" value={what} disabled />
            <span>{what}: comes later</span>
          </label>
        ))}
      </fieldset>
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
      <div>
        <Button type="submit" look="primary" disabled={busy}>
          Make the funnel
        </Button>
        <p className="mt-2 text-[0.9rem] text-soft">
          It makes the opt-in page, “check your inbox”, the welcome page and an e-mail for each lesson, wired and
          written. Nobody sees any of it until you publish.
        </p>
      </div>
    </form>
  )
}
