"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import { locale } from "@/core/words/locale"
import type { Opened } from "@/server/course/admission"
import type { LetInResult } from "@/server/course/let-in"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { option, SelectField, TextArea, TextField } from "@/ui/field"
import { takeBatchBackAction } from "./actions"

const came: Readonly<Record<LetInResult["came"], string>> = {
  "let-in": "let in",
  new: "new here, and let in",
  had: "had it already",
  twice: "twice in the list",
  unreadable: "not an e-mail address",
}

/** Lets people in by hand: one address, or many pasted. */
export function LetIn({
  of,
  modules,
  batches,
}: {
  /** The course or file that they are let into. */
  of: Opened
  modules: readonly { id: number; title: string }[]
  /** What was let in together lately, and can be taken back together. */
  batches: readonly { batch: string; n: number; day: string }[]
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [people, setPeople] = useState("")
  const [module, setModule] = useState(0)
  const [until, setUntil] = useState("")
  const [tells, setTells] = useState(true)
  const [agreed, setAgreed] = useState(false)
  const [consent, setConsent] = useState("")
  const [done, setDone] = useState("")
  const [refused, setRefused] = useState<{ refused: string; field?: string } | null>(null)
  const [results, setResults] = useState<readonly LetInResult[]>([])
  const count = (c: LetInResult["came"][]) => results.filter((r) => c.includes(r.came)).length
  const odd = results.filter((r) => r.came !== "let-in" && r.came !== "new")
  return (
    <section aria-label="Let people in" id="let-in">
      <h2>Let people in</h2>
      <div className="mt-2 space-y-3">
        <TextArea
          label="Addresses"
          hint="One a line, with a name or without, or pasted from a table."
          error={refused && refused.field !== "until" ? refused.refused : undefined}
          rows={4}
          value={people}
          placeholder={"ana@post.example\nIvo Kos <ivo@post.example>"}
          onChange={(e) => setPeople(e.target.value)}
        />
        <label className="block text-note">
          <span className="text-soft">Or from a file of addresses, CSV or plain: </span>
          <input
            type="file"
            accept=".csv,.txt,text/csv,text/plain"
            className="w-full text-label file:mr-2 file:rounded-md file:border file:border-line file:bg-card file:px-2.5 file:py-1 file:font-semibold"
            onChange={async (e) => setPeople((await e.target.files?.[0]?.text()) ?? "")}
          />
        </label>
        <div className="flex flex-wrap gap-3">
          {modules.length ? (
            <div className="min-w-44 flex-1">
              <SelectField label="Into" value={module} onChange={(e) => setModule(Number(e.target.value))}>
                <option value={0}>The whole course</option>
                {modules.map((m) => option(m.id, m.title))}
              </SelectField>
            </div>
          ) : null}
          <div className="w-44">
            <TextField
              label="Until (or without an end)"
              type="date"
              value={until}
              error={refused?.field === "until" ? refused.refused : undefined}
              onChange={(e) => setUntil(e.target.value)}
            />
          </div>
        </div>
        <Check checked={tells} onChange={setTells}>
          Mail them the way in
        </Check>
        <Check
          checked={agreed}
          onChange={setAgreed}
          hint="Only where you can show it: it stands in their story as you state it."
        >
          They have agreed to be written to
        </Check>
        {agreed ? (
          <TextField
            label="What they agreed to, and where"
            value={consent}
            maxLength={500}
            placeholder="The newsletter, on paper at the autumn market"
            onChange={(e) => setConsent(e.target.value)}
          />
        ) : null}
        <Button
          look="primary"
          disabled={busy || !people.trim() || (agreed && !consent.trim())}
          onClick={() =>
            start(async () => {
              const came = await send(
                {
                  ...("media" in of ? { media: of.media } : { course: of.course, ...(module ? { module } : {}) }),
                  until,
                  tells: tells ? "1" : "",
                  consent: agreed ? consent : "",
                  batch: newBatch(),
                },
                people,
                setDone,
              )
              setDone("")
              if ("refused" in came) {
                setRefused(came)
                return
              }
              setRefused(null)
              setResults(came.results)
              setPeople("")
              router.refresh()
            })
          }
        >
          {busy && done ? done : "Let them in"}
        </Button>
        {results.length ? (
          <div role="status">
            <p>
              {count(["let-in", "new"])} let in
              {odd.length ? `, ${odd.length} not:` : "."}
            </p>
            {odd.length ? (
              <a
                className="text-slate underline"
                download="not let in.csv"
                href={`data:text/csv;charset=utf-8,${encodeURIComponent(odd.map((r) => `"${r.typed.replace(/"/g, '""')}","${came[r.came]}"`).join("\r\n"))}`}
              >
                As CSV
              </a>
            ) : null}
            <ul className="mt-1 max-h-60 overflow-auto text-body">
              {odd.slice(0, 200).map((r) => (
                <li key={r.typed} className="[overflow-wrap:anywhere]">
                  <bdi>{r.typed}</bdi>: <span className="text-soft">{came[r.came]}</span>
                </li>
              ))}
            </ul>
          </div>
        ) : null}
        {batches.map((b) => (
          <p key={b.batch} className="flex items-baseline justify-between gap-3 border-t border-line pt-2 text-body">
            <span>
              {b.n} let in together on {b.day}
            </span>
            <Button
              look="danger"
              className="min-h-8"
              disabled={busy}
              onClick={() =>
                start(async () => {
                  await takeBatchBackAction(of, b.batch)
                  router.refresh()
                })
              }
            >
              Take all back
            </Button>
          </p>
        ))}
      </div>
    </section>
  )
}

/** What is let in together has a mark of its own, by which it can be taken back together. */
const newBatch = () =>
  [...crypto.getRandomValues(new Uint8Array(6))].map((x) => x.toString(16).padStart(2, "0")).join("")

type Refused = { readonly refused: string; readonly field?: string }

/** Sends a list up, and hears how far it is. All of it is done or none. */
async function send(
  query: Readonly<Record<string, string | number>>,
  people: string,
  told: (says: string) => void,
): Promise<{ results: LetInResult[] } | Refused> {
  const lost: Refused = { refused: "It was cut off on its way, and nobody was let in. Please try again." }
  const asked = new URLSearchParams(Object.entries(query).map(([k, v]) => [k, String(v)]))
  try {
    const answer = await fetch(`/studio/let-in?${asked}`, { method: "POST", body: people })
    const lines = answer.body?.pipeThrough(new TextDecoderStream()).getReader()
    let text = ""
    let last: { done: number; of: number } | { results: LetInResult[] } | Refused = lost
    for (;;) {
      const part = await lines?.read()
      if (!part || part.done) return "done" in last ? lost : last
      text += part.value
      const whole = text.split("\n")
      text = whole.pop() ?? ""
      for (const line of whole) {
        last = JSON.parse(line)
        if ("done" in last) told(`${last.done.toLocaleString(locale)} of ${last.of.toLocaleString(locale)}…`)
      }
    }
  } catch {
    return lost
  }
}
