"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { Opened } from "@/server/course/admission"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { useOnce } from "@/ui/once"
import { endInvitationAction, newInvitationAction } from "./actions"

/** Links that let whoever opens them in, with a limit and an end. */
export function Invitations({
  of,
  modules,
  invitations,
}: {
  /** The course or file that they open. */
  of: Opened
  modules: readonly { id: number; title: string }[]
  invitations: readonly { id: number; name: string; link: string; about: string }[]
}) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const blank = { name: "", module: 0, most: "", until: "", days: "" }
  const [i, set] = useState(blank)
  const [refused, setRefused] = useState<{ refused?: string; field?: string }>({})
  const [copied, setCopied] = useState(0)
  const [once, renew] = useOnce()
  const error = (field: string) => (refused.field === field ? refused.refused : undefined)
  return (
    <section aria-label="Invitations">
      <h2>Invitations</h2>
      {invitations.length ? (
        <ul className="mt-1 border-b border-line">
          {invitations.map((x) => (
            <li key={x.id} className="flex flex-wrap items-center gap-x-3 border-t border-line py-1.5">
              <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">
                <bdi>{x.name}</bdi> <span className="block text-note text-soft">{x.about}</span>
              </span>
              <Button
                className="min-h-8"
                onClick={async () => {
                  await navigator.clipboard.writeText(x.link)
                  setCopied(x.id)
                }}
              >
                {copied === x.id ? "Copied" : "Copy the link"}
              </Button>
              <Button
                look="danger"
                className="min-h-8"
                disabled={busy}
                onClick={() =>
                  start(async () => {
                    await endInvitationAction(x.id)
                    router.refresh()
                  })
                }
              >
                End it
              </Button>
            </li>
          ))}
        </ul>
      ) : (
        <p className="mt-1 text-soft">A link that lets whoever opens it in: for a partner, a class, a giveaway.</p>
      )}
      <div className="mt-3 space-y-3">
        <TextField
          label="A new one, for whom"
          value={i.name}
          maxLength={120}
          placeholder="The Thursday class"
          error={error("name") ?? (refused.field ? undefined : refused.refused)}
          onChange={(e) => set({ ...i, name: e.target.value })}
        />
        <div className="flex flex-wrap gap-3">
          {modules.length ? (
            <div className="min-w-40 flex-1">
              <SelectField
                label="Opens"
                value={i.module}
                onChange={(e) => set({ ...i, module: Number(e.target.value) })}
              >
                <option value={0}>The whole course</option>
                {modules.map((m) => option(m.id, m.title))}
              </SelectField>
            </div>
          ) : null}
          <div className="w-28">
            <TextField
              label="How many"
              type="number"
              min={1}
              placeholder="any"
              value={i.most}
              error={error("most")}
              onChange={(e) => set({ ...i, most: e.target.value })}
            />
          </div>
          <div className="w-40">
            <TextField
              label="Usable until"
              type="date"
              value={i.until}
              error={error("until")}
              onChange={(e) => set({ ...i, until: e.target.value })}
            />
          </div>
          <div className="w-32">
            <TextField
              label="Access, days"
              type="number"
              min={1}
              placeholder="no end"
              value={i.days}
              error={error("days")}
              onChange={(e) => set({ ...i, days: e.target.value })}
            />
          </div>
        </div>
        <Button
          disabled={busy}
          onClick={() =>
            start(async () => {
              const wanted = {
                ...of,
                module: i.module || null,
                name: i.name,
                most: i.most ? Number(i.most) : null,
                until: i.until || null,
                days: i.days ? Number(i.days) : null,
              }
              const done = await newInvitationAction(wanted, once)
              setRefused(done)
              if (!done.id) return
              set(blank)
              renew()
              router.refresh()
            })
          }
        >
          Make the link
        </Button>
      </div>
    </section>
  )
}
