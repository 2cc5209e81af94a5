"use client"

import { useRouter } from "next/navigation"
import type { LessonInput } from "@/server/course/course"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Clash } from "@/ui/clash"
import { SelectField, TextField } from "@/ui/field"
import { Link } from "@/ui/link"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { saveLessonAction } from "../actions"
import { DoneByField, OpensField } from "./rule-fields"

const fields = {
  title: "Title",
  minutes: "Minutes",
  state: "Status",
  opens: "Opens",
  free: "Free preview",
  required: "Required",
  doneBy: "Done when",
  comments: "Comments",
}

export function LessonEditor({
  lesson,
  page,
  parts,
  gaps,
  counted,
  others,
}: {
  lesson: Versioned<LessonInput>
  /** Where its page is written. */
  page: string
  /** What is on its page, and what that still leaves to be said. */
  parts: readonly { readonly id: string; readonly name: string; readonly line: string }[]
  gaps: readonly string[]
  /** Minutes of what it plays, counted from the files. */
  counted: number
  /** The other lessons of the course, which this one may wait for. */
  others: readonly { readonly id: number; readonly title: string }[]
}) {
  const router = useRouter()
  const {
    value: l,
    set,
    saved,
    clash,
  } = useShared(lesson, async (value, before) => {
    const done = await saveLessonAction(value, before)
    if ("value" in done) router.refresh()
    return done
  })
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  return (
    <section aria-label="The lesson" className="rounded-lg border border-line bg-card p-5">
      <div className="mb-3 flex items-center justify-between gap-3">
        <h2 className="truncate">{l.title || "A lesson without a title"}</h2>
        <span
          role="status"
          className={`text-note whitespace-nowrap ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}
        >
          {saveWords(saved)}
        </span>
      </div>
      <Clash clash={clash} labels={fields} />
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-[minmax(0,1fr)_6rem_9rem]">
        <TextField
          label="Title"
          value={l.title}
          maxLength={160}
          onChange={(e) => set({ ...l, title: e.target.value })}
          error={error("title")}
        />
        <TextField
          label="Minutes"
          type="number"
          min={0}
          max={600}
          value={l.minutes || ""}
          placeholder={counted ? String(counted) : "none"}
          title={counted ? "Empty: counted from what it plays" : undefined}
          onChange={(e) => set({ ...l, minutes: e.target.valueAsNumber || 0 })}
          error={error("minutes")}
        />
        <SelectField label="Status" value={l.state} onChange={(e) => set({ ...l, state: e.target.value as "draft" })}>
          <option value="draft">Draft</option>
          <option value="live">Live</option>
        </SelectField>
      </div>
      <section aria-label="What is in it" className="mt-4 rounded-md border border-line bg-paper p-3">
        {parts.length ? (
          <ul className="mb-3">
            {parts.map((x) => (
              <li key={x.id} className="border-b border-line last:border-0">
                <Link
                  href={`${page}?block=${x.id}`}
                  className="flex items-baseline justify-between gap-3 py-1.5 hover:underline"
                >
                  <span className="truncate">{x.line}</span>
                  <span className="shrink-0 text-fine text-soft">{x.name}</span>
                </Link>
              </li>
            ))}
          </ul>
        ) : (
          <p className={`mb-3 ${l.state === "live" ? "font-semibold text-amber-text" : "text-soft"}`}>
            {l.state === "live"
              ? "It is live, and there is nothing in it: learners open an empty page."
              : "There is nothing in it yet."}
          </p>
        )}
        {gaps.map((g) => (
          <p key={g} className="mb-2 text-body font-semibold text-amber-text first-letter:uppercase">
            {g}.
          </p>
        ))}
        <Button asChild look={parts.length ? "plain" : "primary"}>
          <Link href={page}>Write the lesson</Link>
        </Button>
      </section>
      <div className="mt-4 grid grid-cols-1 gap-x-4 gap-y-3 border-t border-line pt-4 sm:grid-cols-2">
        <OpensField
          label="Opens"
          value={l.opens}
          inherits="as its module and course say"
          lessons={others}
          error={error("opens")}
          onChange={(opens) => set((now) => ({ ...now, opens }))}
        />
        <DoneByField
          value={l.doneBy}
          inherits="as the course says"
          onChange={(doneBy) => set((now) => ({ ...now, doneBy }))}
        />
        <SelectField
          label="Comments"
          value={l.comments}
          onChange={(e) => set((now) => ({ ...now, comments: e.target.value as LessonInput["comments"] }))}
        >
          <option value="off">Off</option>
          <option value="on">On, shown at once</option>
          <option value="moderated">On, shown when you have looked</option>
        </SelectField>
        <span className="hidden sm:block" />
        <Check
          checked={l.free}
          onChange={(free) => set((now) => ({ ...now, free }))}
          hint="Open to everybody, without signing in."
        >
          A free preview
        </Check>
        <Check
          checked={l.required}
          onChange={(required) => set((now) => ({ ...now, required }))}
          hint="Must be done before what follows, where the course goes in order."
        >
          Required
        </Check>
      </div>
    </section>
  )
}
