"use client"

import { useState } from "react"
import type { NotIn } from "@/server/course/members"
import { Button } from "@/ui/button"
import { Link, TextLink } from "@/ui/link"
import { useAction } from "@/ui/use-action"
import { mailWayInAction } from "../../actions"

const why: Readonly<Record<NotIn["why"], string>> = {
  draft: "the course is a draft",
  unreachable: "their address can’t be reached",
  waiting: "the e-mail with the way in hasn’t gone out",
  unpressed: "was mailed the way in, and hasn’t come",
}

/** Who paid or joined and hasn't got in: each with what stands in the way, and a press that mends it. */
export function NotInList({ people }: { people: readonly (Omit<NotIn, "since"> & { since: string })[] }) {
  const { busy, run } = useAction()
  const [mailed, setMailed] = useState<ReadonlySet<number>>(new Set())
  if (!people.length) return null
  return (
    <details open={people.length < 6} className="mb-5 rounded-lg bg-amber-wash px-4 py-3 text-ink">
      <summary className="font-semibold">
        {people.length === 1 ? "One person has" : `${people.length} people have`} not come in this week
      </summary>
      <ul className="mt-2 max-h-72 overflow-auto">
        {people.map((p) => (
          <li key={p.person} className="flex flex-wrap items-baseline gap-x-3 border-t border-amber/30 py-1.5">
            <Link href={`/studio/people/${p.person}`} className="font-semibold text-slate hover:underline">
              {p.name || p.email}
            </Link>
            <span className="min-w-0 flex-1">
              since {p.since}: {why[p.why]}
            </span>
            {p.why === "draft" ? (
              <TextLink href={`/studio/courses/${p.course}/settings`}>Put it live</TextLink>
            ) : p.why === "unreachable" ? (
              <TextLink href={`/studio/people/${p.person}`}>Look at the address</TextLink>
            ) : mailed.has(p.person) ? (
              <span role="status">Mailed</span>
            ) : (
              <Button
                look="warn"
                className="min-h-8"
                disabled={busy}
                onClick={() =>
                  run(
                    () => mailWayInAction(p.person, p.course),
                    () => setMailed((m) => new Set([...m, p.person])),
                  )
                }
              >
                Mail the way in
              </Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  )
}
