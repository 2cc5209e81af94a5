"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { LetInResult } from "@/server/course/let-in"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Field, SelectField, TextField } from "@/ui/field"
import { letInAction, takeBatchBackAction } from "../../actions"

const came: Readonly<Record<LetInResult["came"], string>> = {
  "let-in": "let in",
  new: "new here, and let in",
  had: "had it already",
  twice: "twice in the list",
  unreadable: "not an e-mail address",
}

/** Lets people in by hand: one address, or many pasted. */
export function LetIn({
  course,
  modules,
  batches,
}: {
  course: number
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
  const [done, setDone] = useState(0)
  const [refused, setRefused] = useState<{ refused: string; field?: string } | null>(null)
  const [results, setResults] = useState<readonly LetInResult[]>([])
  const count = (c: LetInResult["came"][]) => results.filter((r) => c.includes(r.came)).length
  const odd = results.filter((r) => r.came !== "let-in" && r.came !== "new")
  return (
    <section aria-label="Let people in" id="let-in">
      <h2>Let people in</h2>
      <div className="mt-2 space-y-3">
        <Field
          label="Addresses"
          hint="One a line, with a name or without, or pasted from a table."
          error={refused && refused.field !== "until" ? refused.refused : undefined}
        >
          {(p) => (
            <textarea
              {...p}
              rows={4}
              value={people}
              placeholder={"ana@post.example\nIvo Kos <ivo@post.example>"}
              onChange={(e) => setPeople(e.target.value)}
            />
          )}
        </Field>
        <label className="block text-[0.9rem]">
          <span className="text-soft">Or from a file of addresses, CSV or plain: </span>
          <input
            type="file"
            accept=".csv,.txt,text/csv,text/plain"
            className="w-full text-[0.87rem] file:mr-2 file:rounded-md file:border file:border-line file:bg-card file:px-2.5 file:py-1 file:font-semibold"
            onChange={async (e) => setPeople((await e.target.files?.[0]?.text()) ?? "")}
          />
        </label>
        <div className="flex flex-wrap gap-3">
          {modules.length ? (
            <div className="min-w-44 flex-1">
              <SelectField label="Into" value={module} onChange={(e) => setModule(Number(e.target.value))}>
                <option value={0}>The whole course</option>
                {modules.map((m) => (
                  <option key={m.id} value={m.id}>
                    {m.title}
                  </option>
                ))}
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
              // Piece by piece, so that a long list is seen to go on; all of it can be taken back together.
              const batch = [...crypto.getRandomValues(new Uint8Array(6))]
                .map((x) => x.toString(16).padStart(2, "0"))
                .join("")
              const all: LetInResult[] = []
              for (const piece of piecesOf(people)) {
                const came = await letInAction({
                  course,
                  module: module || null,
                  people: piece,
                  until: until || null,
                  tells,
                  consent: agreed ? consent : "",
                  batch,
                })
                if ("refused" in came) {
                  setRefused(came)
                  setResults(all)
                  return
                }
                all.push(...came.results)
                setDone(all.length)
              }
              setRefused(null)
              setResults(all)
              setDone(0)
              setPeople("")
              router.refresh()
            })
          }
        >
          {busy && done ? `${done} so far…` : "Let them in"}
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
            <ul className="mt-1 max-h-60 overflow-auto text-[0.93rem]">
              {odd.slice(0, 200).map((r) => (
                <li key={r.typed} className="[overflow-wrap:anywhere]">
                  {r.typed}: <span className="text-soft">{came[r.came]}</span>
                </li>
              ))}
            </ul>
          </div>
        ) : null}
        {batches.map((b) => (
          <p
            key={b.batch}
            className="flex items-baseline justify-between gap-3 border-t border-line pt-2 text-[0.93rem]"
          >
            <span>
              {b.n} let in together on {b.day}
            </span>
            <Button
              look="danger"
              className="min-h-8"
              disabled={busy}
              onClick={() =>
                start(async () => {
                  await takeBatchBackAction(course, b.batch)
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

/** A long list in pieces of 500 lines; a head of CSV stands before each. */
function piecesOf(text: string): string[] {
  const lines = text.split(/\r?\n/)
  const head = lines[0] && !lines[0].includes("@") && /mail/i.test(lines[0]) ? [lines[0]] : []
  const rest = lines.slice(head.length)
  return Array.from({ length: Math.ceil(rest.length / 500) }, (_, i) =>
    [...head, ...rest.slice(i * 500, (i + 1) * 500)].join("\n"),
  ).filter((p) => p.trim())
}
