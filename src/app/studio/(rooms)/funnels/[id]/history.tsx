"use client"

import { useRouter } from "next/navigation"
import { useTransition } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { bringBackAction } from "../actions"
import type { Draft, Published } from "./workspace"

/** What visitors got and what was changed, when and by whom; an earlier release can be brought back. */
export function History({
  funnel,
  releases,
  changes,
  onClose,
  onSaid,
}: Pick<Draft, "changes"> &
  Pick<Published, "releases"> & {
    funnel: number
    onClose: () => void
    onSaid: (words: string) => void
  }) {
  const [busy, start] = useTransition()
  const router = useRouter()
  const bringBack = (release: number) =>
    start(async () => {
      const done = await bringBackAction(funnel, release)
      onClose()
      onSaid(done.refused ?? `Release ${done.number} is live again.`)
      router.refresh()
    })
  return (
    <Dialog open onOpenChange={(o) => !o && onClose()} title="History">
      <h3>Releases</h3>
      <p className="mb-2">What visitors got, and when it was published. The draft stays as it is.</p>
      {releases.length === 0 ? <p className="text-soft">Nothing was published yet.</p> : null}
      <ul>
        {releases.map((r) => (
          <li key={r.id} className="flex items-center justify-between gap-3 border-t border-line py-2">
            <span>
              <strong>Release {r.number}</strong>, {r.at}
              {r.who ? <span className="text-soft">, by {r.who}</span> : null}
            </span>
            {r.live ? (
              <span className="text-reed">Live now</span>
            ) : (
              <Button disabled={busy} onClick={() => bringBack(r.id)}>
                Bring back
              </Button>
            )}
          </li>
        ))}
      </ul>
      {changes.length ? (
        <>
          <h3 className="mt-4">Changes to the draft</h3>
          <ul>
            {changes.map((c) => (
              <li key={c.id} className="border-t border-line py-1.5 [overflow-wrap:anywhere]">
                {c.what}
                <span className="text-soft">
                  , {c.at}
                  {c.who ? `, by ${c.who}` : ""}
                </span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </Dialog>
  )
}
