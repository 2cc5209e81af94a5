"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { CourseInput, CourseState } from "@/server/course/course"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Clash } from "@/ui/clash"
import { option, SelectField, TextArea, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { copyCourseAction, saveCourseAction } from "../../actions"
import { type EditorMedia, MediaField } from "../media-field"
import { DoneByField } from "../rule-fields"

const labels = {
  title: "Title",
  promise: "Promise",
  promises: "What they will be able to do",
  teacher: "Teacher",
  picture: "Picture",
  state: "Status",
  starts: "Opens on",
  doneBy: "Done when",
  openToAll: "Open to everybody",
  signingUp: "People may sign up",
  awayDays: "Counts as not here after",
}

const states: readonly (readonly [CourseState, string])[] = [
  ["draft", "Draft: nobody sees it"],
  ["announced", "Announced: on sale, and opens on a day"],
  ["live", "Live: whoever has been let in can learn"],
  ["closed", "Closed to newcomers: whoever is in goes on"],
]

export function CourseSettings({
  course,
  media: given,
  empty,
}: {
  course: Versioned<CourseInput>
  media: readonly EditorMedia[]
  /** How many of its lessons are live with nothing in them. */
  empty: number
}) {
  const router = useRouter()
  const {
    value: c,
    set,
    saved,
    clash,
  } = useShared(course, async (value, before) => {
    const done = await saveCourseAction(value, before)
    if ("value" in done) router.refresh()
    return done
  })
  const [media, setMedia] = useState(given)
  const [busy, start] = useTransition()
  const [once] = useOnce()
  const error = (field: string) => (typeof saved === "object" && saved.field === field ? saved.refused : undefined)
  return (
    <section aria-label="The course" className="space-y-4">
      <p role="status" className={`text-note ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}>
        {saveWords(saved)}
      </p>
      <Clash clash={clash} labels={labels} />
      <TextField
        label="Title"
        value={c.title}
        maxLength={160}
        onChange={(e) => set({ ...c, title: e.target.value })}
        error={error("title")}
      />
      <TextArea
        label="Promise"
        hint="What people can do afterwards, in a sentence."
        rows={3}
        maxLength={400}
        value={c.promise}
        onChange={(e) => set({ ...c, promise: e.target.value })}
      />
      <TextArea
        label="What they will be able to do, one per line"
        hint="Pages show it by the block “outcomes”."
        rows={5}
        value={c.promises.join("\n")}
        onChange={(e) =>
          set({
            ...c,
            promises: e.target.value
              .split("\n")
              .slice(0, 12)
              .map((l) => l.slice(0, 300)),
          })
        }
        error={error("promises")}
      />
      <TextField
        label="Teacher"
        value={c.teacher}
        maxLength={120}
        onChange={(e) => set({ ...c, teacher: e.target.value })}
      />
      <MediaField
        kind="picture"
        label="Picture"
        value={c.picture}
        media={media}
        onUploaded={(m) => setMedia((all) => [m, ...all])}
        onChange={(picture) => set((now) => ({ ...now, picture }))}
      />
      <div className="flex flex-wrap gap-3">
        <div className="min-w-64 flex-1">
          <SelectField
            label="Status"
            value={c.state}
            onChange={(e) => set({ ...c, state: e.target.value as CourseState })}
          >
            {states.map(([state, says]) => option(state, says))}
          </SelectField>
        </div>
        {c.state === "announced" ? (
          <div className="w-44">
            <TextField
              label="Opens on"
              type="date"
              value={c.starts ?? ""}
              onChange={(e) => set({ ...c, starts: e.target.value || null })}
              error={error("starts")}
            />
          </div>
        ) : null}
      </div>
      {empty > 0 && c.state !== "draft" ? (
        <p role="status" className="text-body font-semibold text-amber-text">
          {empty === 1 ? "One live lesson has" : `${empty} live lessons have`} nothing in{" "}
          {empty === 1 ? "it: learners open an empty page." : "them: learners open empty pages."}
        </p>
      ) : null}
      <Check
        checked={c.openToAll}
        onChange={(openToAll) => set((now) => ({ ...now, openToAll }))}
        hint="Every live lesson can be read without signing in. Progress is kept for whoever signs in."
      >
        Open to everybody
      </Check>
      <Check
        checked={c.signingUp}
        onChange={(signingUp) => set((now) => ({ ...now, signingUp }))}
        hint="Off: a form that opens this course says that signing up is closed. Whoever buys it, or is let in by you, comes in."
      >
        People may sign up for it
      </Check>
      <Check
        checked={c.certifies}
        onChange={(certifies) => set((now) => ({ ...now, certifies }))}
        hint="Whoever has done all that is required gets one, with a number that anybody can look up."
      >
        Certificate at the end
      </Check>
      <DoneByField value={c.doneBy} onChange={(doneBy) => set((now) => ({ ...now, doneBy }))} />
      <div className="w-64">
        <TextField
          label="Counts as not here after, days"
          type="number"
          min={1}
          max={365}
          value={c.awayDays ?? ""}
          placeholder="Never"
          error={error("awayDays")}
          hint="Sets off what hangs on it below, once for each time that somebody stays away. It counts from now on."
          onChange={(e) =>
            set({ ...c, awayDays: Number.isNaN(e.target.valueAsNumber) ? null : e.target.valueAsNumber })
          }
        />
      </div>
      <p className="border-t border-line pt-4">
        <Button
          disabled={busy}
          onClick={() =>
            start(async () => {
              const made = await copyCourseAction(c.course, once)
              if (made.id) router.push(`/studio/courses/${made.id}/settings`)
            })
          }
        >
          Duplicate the course
        </Button>
      </p>
    </section>
  )
}
