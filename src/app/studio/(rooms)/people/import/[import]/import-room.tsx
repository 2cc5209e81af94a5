"use client"

import { useRouter } from "next/navigation"
import { useEffect, useState } from "react"
import { type Role, roles, type Secret } from "@/core/person/import"
import { locale } from "@/core/words/locale"
import type { ImportSeen } from "@/server/person/import"
import { Button } from "@/ui/button"
import { Check } from "@/ui/check"
import { option, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { startImportAction, takeBackImportAction } from "../../actions"

const roleWords: Readonly<Record<(typeof roles)[number], string>> = {
  email: "E-mail address",
  name: "Name",
  "first-name": "First name",
  "last-name": "Last name",
  tags: "Tags, set apart by ;",
  zone: "Time zone",
  skip: "Don’t import",
}

const secretWords: Readonly<Record<Secret, string>> = {
  password: "passwords",
  card: "card numbers",
  bank: "bank accounts",
  hash: "scrambled secrets",
}

const encodings = {
  "utf-8": "UTF-8",
  "utf-16le": "UTF-16",
  "utf-16be": "UTF-16",
  "windows-1252": "Windows-1252",
} as const
const delimiters: Readonly<Record<string, string>> = { ",": "commas", ";": "semicolons", "\t": "tabs", "|": "bars" }

/** What is in a file, what its columns are taken for, and what came of it. */
export function ImportRoom({ seen }: { seen: ImportSeen }) {
  return seen.state === "uploaded" ? <Plan seen={seen} /> : <Outcome seen={seen} />
}

function Plan({ seen }: { seen: ImportSeen }) {
  const { busy, refused, run } = useAction()
  const [as, setAs] = useState<readonly Role[]>(seen.roles)
  const [tags, setTags] = useState("")
  const [agreed, setAgreed] = useState(false)
  const [consent, setConsent] = useState("")
  const secrets = [...new Set(Object.values(seen.secrets))]
  return (
    <>
      <p className="mt-1 text-soft">
        Read as {encodings[seen.reading.encoding]}, set apart by{" "}
        {delimiters[seen.reading.delimiter] ?? "something else"},{" "}
        {seen.head ? "with a first line that names the columns" : "without a line that names the columns"}.
      </p>
      {secrets.length ? (
        <p role="alert" className="mt-3 rounded-md border border-amber bg-amber-wash p-3">
          A column seems to hold {secrets.map((x) => secretWords[x]).join(" and ")}. It is never read, whatever you
          choose. Better delete such a file.
        </p>
      ) : null}
      <section aria-label="The first lines" className="mt-4 overflow-x-auto rounded-md border border-line">
        <table className="w-full text-left text-body">
          <thead>
            <tr>
              {as.map((role, i) => (
                <th key={`${i}-${seen.head?.[i] ?? ""}`} scope="col" className="min-w-44 p-2 align-bottom">
                  <span className="block truncate text-fine font-normal text-soft">
                    {seen.head?.[i] || `Column ${i + 1}`}
                  </span>
                  <select
                    aria-label={`What ${seen.head?.[i] || `column ${i + 1}`} is`}
                    className="mt-1 min-h-9 w-full rounded-md border border-line bg-card px-2"
                    value={seen.secrets[i] ? "skip" : role}
                    disabled={seen.secrets[i] !== undefined}
                    onChange={(e) => setAs(as.with(i, e.target.value as Role))}
                  >
                    {roles.map((r) => option(r, roleWords[r]))}
                    {seen.fields.map((f) => (
                      <option key={f.id} value={`field:${f.id}`}>
                        {f.label}
                      </option>
                    ))}
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {seen.lines.map((line, n) => (
              <tr key={`${n}-${line.join()}`} className="border-t border-line">
                {as.map((role, i) => (
                  <td
                    key={`${i}-${line[i] ?? ""}`}
                    className={`max-w-64 truncate px-2 py-1 ${role === "skip" || seen.secrets[i] ? "text-soft line-through" : ""}`}
                  >
                    {seen.secrets[i] ? "•••" : (line[i] ?? "")}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <div className="mt-4 max-w-2xl space-y-4">
        <TextField
          label="Tags for everybody in it (optional)"
          value={tags}
          placeholder="autumn fair; old list"
          hint="Set apart by ;"
          onChange={(e) => setTags(e.target.value)}
        />
        <Check
          checked={agreed}
          onChange={setAgreed}
          hint="Without it they are in your list, and no broadcast goes to them. Whoever has unsubscribed or was erased stays so."
        >
          They agreed to be written to, and I can show it
        </Check>
        {agreed ? (
          <TextField
            label="The words they agreed to"
            value={consent}
            maxLength={1000}
            onChange={(e) => setConsent(e.target.value)}
          />
        ) : null}
        <Refusal>{refused}</Refusal>
        <Button
          look="primary"
          disabled={busy || (agreed && !consent.trim())}
          onClick={() =>
            run(() =>
              startImportAction(seen.id, {
                roles: as,
                tags: tags
                  .split(";")
                  .map((t) => t.trim())
                  .filter(Boolean),
                consent: agreed ? consent : "",
              }),
            )
          }
        >
          Take them in
        </Button>
      </div>
    </>
  )
}

function Outcome({ seen }: { seen: ImportSeen }) {
  const router = useRouter()
  const { busy, refused, run } = useAction()
  const running = seen.state === "running"
  useEffect(() => {
    if (!running) return
    const timer = setInterval(() => router.refresh(), 1_500)
    return () => clearInterval(timer)
  }, [running, router])
  const n = (x: number) => x.toLocaleString(locale)
  return (
    <div className="mt-3 max-w-2xl space-y-4">
      <p role="status" className="text-lg">
        {running
          ? `Coming in: ${n(seen.linesDone)} lines so far.`
          : seen.state === "done"
            ? `Done: ${n(seen.linesDone)} lines.`
            : seen.state === "taken-back"
              ? "Taken back: whoever came by it and has bought nothing since is gone again."
              : `It stopped after ${n(seen.linesDone)} lines: ${seen.trouble ?? ""}`}
      </p>
      <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
        <dt>New</dt>
        <dd className="tabular-nums">{n(seen.fresh)}</dd>
        <dt>Known already, and kept as they are</dt>
        <dd className="tabular-nums">{n(seen.known)}</dd>
        <dt>Refused</dt>
        <dd className="tabular-nums">
          {n(seen.refused)}{" "}
          {seen.refused && !seen.bytes ? (
            <span className="text-soft">(the lines were kept for a week)</span>
          ) : seen.refused ? (
            <a className="text-slate underline" href={`/studio/people/import/${seen.id}/refused.csv`}>
              See which, and why
            </a>
          ) : null}
        </dd>
      </dl>
      <Refusal>{refused}</Refusal>
      {seen.canTakeBack ? (
        <Button look="danger" disabled={busy} onClick={() => run(() => takeBackImportAction(seen.id))}>
          Take it back as a whole
        </Button>
      ) : null}
    </div>
  )
}
