"use client"

import { usePageAct } from "@/ui/act-form"
import { Button } from "@/ui/button"
import { TextArea, TextField } from "@/ui/field"
import { Link } from "@/ui/link"
import { Refusal } from "@/ui/refusal"
import { sayOfCourseAction } from "../../actions"

export function WordsForm({
  course,
  slug,
  mine,
}: {
  course: number
  slug: string
  mine: { readonly words: string; readonly name: string } | null
}) {
  const [state, act, busy] = usePageAct(sayOfCourseAction, {})
  const error = (field: string) => (state.field === field ? state.refused : undefined)
  if (state.done)
    return (
      <p role="status" className="mt-4 rounded-lg bg-card p-4">
        {state.done}{" "}
        <Link className="underline" href={`/learn/${slug}`}>
          Back to the course
        </Link>
      </p>
    )
  return (
    <form action={act} className="mt-5 space-y-4">
      <input type="hidden" name="course" value={course} />
      <TextArea
        label="Your words"
        name="words"
        rows={4}
        maxLength={600}
        required
        defaultValue={mine?.words}
        error={error("words")}
      />
      <TextField
        label="Name, as it may stand there"
        name="name"
        maxLength={120}
        defaultValue={mine?.name}
        hint="Empty: it stands there without one."
      />
      <label className="flex items-start gap-2">
        <input type="checkbox" name="agrees" value="1" required className="mt-1.5 accent-slate" />
        <span>
          My words and this name may be shown on pages about the course. I can take them back here at any time.
        </span>
      </label>
      <Refusal>{state.field === "words" ? "" : state.refused}</Refusal>
      <div className="flex flex-wrap gap-3">
        <Button type="submit" name="do" value="say" look="primary" className="min-h-11" disabled={busy}>
          {mine ? "Send it anew" : "Send it"}
        </Button>
        {mine ? (
          <Button type="submit" name="do" value="back" formNoValidate className="min-h-11" disabled={busy}>
            Take it back
          </Button>
        ) : null}
      </div>
    </form>
  )
}
