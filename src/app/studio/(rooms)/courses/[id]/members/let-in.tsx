"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { LetInResult } from "@/server/course/let-in"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { Field, SelectField, TextField } from "@/ui/field"
import { letInAction } from "../../actions"

const came: Readonly<Record<LetInResult["came"], string>> = {
  "let-in": "let in",
  new: "new here, and let in",
  had: "had it already",
  twice: "twice in the list",
  unreadable: "not an e-mail address",
}

/** Lets people in by hand: one address, or many pasted. */
export function LetIn({ course, modules }: { course: number; modules: readonly { id: number; title: string }[] }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [people, setPeople] = useState("")
  const [module, setModule] = useState(0)
  const [until, setUntil] = useState("")
  const [tells, setTells] = useState(true)
  const [refused, setRefused] = useState<{ refused: string; field?: string } | null>(null)
  const [results, setResults] = useState<readonly LetInResult[]>([])
  const count = (c: LetInResult["came"][]) => results.filter((r) => c.includes(r.came)).length
  const odd = results.filter((r) => r.came !== "let-in" && r.came !== "new")
  return (
    <section aria-label="Let people in">
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
        <Button
          look="primary"
          disabled={busy || !people.trim()}
          onClick={() =>
            start(async () => {
              const done = await letInAction({ course, module: module || null, people, until: until || null, tells })
              if ("refused" in done) {
                setRefused(done)
                return
              }
              setRefused(null)
              setResults(done.results)
              setPeople("")
              router.refresh()
            })
          }
        >
          Let them in
        </Button>
        {results.length ? (
          <div role="status">
            <p>
              {count(["let-in", "new"])} let in
              {odd.length ? `, ${odd.length} not:` : "."}
            </p>
            <ul className="mt-1 max-h-60 overflow-auto text-[0.93rem]">
              {odd.map((r) => (
                <li key={r.typed} className="[overflow-wrap:anywhere]">
                  {r.typed}: <span className="text-soft">{came[r.came]}</span>
                </li>
              ))}
            </ul>
          </div>
        ) : null}
      </div>
    </section>
  )
}
