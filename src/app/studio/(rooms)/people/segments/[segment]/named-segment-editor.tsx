"use client"

import { useRouter } from "next/navigation"
import type { CountFound } from "@/server/person/count"
import type { SegmentInput } from "@/server/person/segment"
import type { SegmentChoices } from "@/server/person/segment-view"
import { Button } from "@/ui/button"
import { Clash } from "@/ui/clash"
import { TextField } from "@/ui/field"
import { Link } from "@/ui/link"
import { useOnce } from "@/ui/once"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { useAsked } from "@/ui/use-asked"
import { saveWords } from "@/ui/use-saved"
import { useShared, type Versioned } from "@/ui/use-shared"
import { SegmentEditor } from "../../../segment-editor/segment-editor"
import { counted } from "../../../words"
import {
  countExactlyAction,
  removeSegmentAction,
  saveSegmentAction,
  tryQuestionAction,
  writeToSegmentAction,
} from "../../actions"

/** What is known exactly, in place of what could be said soon: asked for only where that left something open. */
function useExact(question: unknown, soon: CountFound): { readonly found: CountFound; readonly counting: boolean } {
  const open = soon.count.least !== soon.count.most || soon.first === null
  const key = JSON.stringify(question)
  const { answer } = useAsked(open ? key : null, null as { key: string; found: CountFound } | null, async (asked) => {
    const came = asked === null ? null : await countExactlyAction(JSON.parse(asked))
    return came && "count" in came ? { key: asked!, found: came } : null
  })
  if (!open) return { found: soon, counting: false }
  return answer?.key === key ? { found: answer.found, counting: false } : { found: soon, counting: true }
}

/** A segment being built: the question, and whom it finds, counted while it is written. */
export function NamedSegmentEditor({
  id,
  segment,
  choices,
  found: given,
}: {
  id: number
  segment: Versioned<SegmentInput>
  choices: SegmentChoices
  found: CountFound
}) {
  const router = useRouter()
  const { busy, refused, run } = useAction()
  const [once] = useOnce()
  const { value, set, saved, clash } = useShared(segment, async (next, before) => {
    const done = await saveSegmentAction(id, next, before)
    if ("value" in done) router.refresh()
    return done
  })
  const { answer: soon, asking } = useAsked(value.question, given, async (question) => {
    const came = await tryQuestionAction(question)
    return "count" in came ? came : null
  })
  const { found, counting } = useExact(value.question, soon)
  return (
    <div className="mt-2 grid grid-cols-1 gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <section aria-label="The question" className="space-y-4">
        <p role="status" className={`text-note ${typeof saved === "object" ? "font-semibold text-dusk" : "text-soft"}`}>
          {saveWords(saved)}
        </p>
        <Clash clash={clash} labels={{ name: "Name", question: "For whom" }} />
        <TextField
          label="Name"
          value={value.name}
          maxLength={120}
          error={typeof saved === "object" && saved.field === "name" ? saved.refused : undefined}
          onChange={(e) => set({ ...value, name: e.target.value })}
        />
        <SegmentEditor
          value={value.question}
          choices={choices}
          onChange={(question) => set((now) => ({ ...now, question }))}
        />
        <div className="flex flex-wrap items-center gap-3 border-t border-line pt-4">
          <Button
            look="danger"
            disabled={busy}
            onClick={() =>
              run(
                () => removeSegmentAction(id),
                () => router.push("/studio/people/segments"),
              )
            }
          >
            Remove the segment
          </Button>
          <Refusal>{refused}</Refusal>
        </div>
      </section>
      <section aria-label="Whom it finds" aria-busy={asking || counting}>
        <p role="status" className="text-2xl font-bold tabular-nums">
          {counted(found.count)}{" "}
          <span className="text-base font-normal text-soft">
            {found.count.most === 1 ? "person" : "people"}
            {asking || counting ? ", counting…" : ""}
          </span>
        </p>
        <Button
          className="mt-2"
          disabled={busy || typeof saved === "object"}
          onClick={() => run(() => writeToSegmentAction(id, once))}
        >
          Write to them
        </Button>
        {found.first === null ? (
          <p className="mt-2 text-soft">Looking for who they are…</p>
        ) : found.first.length ? (
          <>
            <ul className="mt-2 border-b border-line">
              {found.first.map((p) => (
                <li key={p.id} className="border-t border-line py-1">
                  <Link href={`/studio/people/${p.id}`} className="block truncate text-slate hover:underline">
                    {p.name || p.email}
                  </Link>
                </li>
              ))}
            </ul>
            <p className="mt-1 text-note text-soft">
              {found.count.most > found.first.length ? `The ${found.first.length} who joined last. ` : ""}
              <a className="text-slate underline" href={`/studio/people/segments/${id}/people.csv`}>
                All as CSV
              </a>
              ,{" "}
              <a className="text-slate underline" href={`/studio/people/segments/${id}/people.vcf`}>
                as address cards
              </a>
            </p>
          </>
        ) : (
          <p className="mt-2 text-soft">Nobody is that just now.</p>
        )}
      </section>
    </div>
  )
}
