"use client"

import { useRouter } from "next/navigation"
import { useState, useTransition } from "react"
import type { GoalMet } from "@/server/sequence/goal"
import type { Effected, Replan } from "@/server/sequence/live"
import type { SequenceDraft } from "@/server/sequence/store"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { Refusal } from "@/ui/refusal"
import { counted, people } from "../../../words"
import { nearlyAllAtGoalAction, pauseAction, putLiveAction, resumeAction, whatItDoesAction } from "../actions"

/** Whether it runs, and what can be done about that. */
export function StateBar({ sequence, changed }: { sequence: SequenceDraft; changed: boolean }) {
  const router = useRouter()
  const [busy, start] = useTransition()
  const [effected, setEffected] = useState<readonly Effected[] | null>(null)
  const [replan, setReplan] = useState<Replan>("as-planned")
  const [atGoal, setAtGoal] = useState<GoalMet | null>(null)
  const [trouble, setTrouble] = useState("")
  const { id, state } = sequence
  const draft = state === "draft" || sequence.version === null
  const run = (does: () => Promise<{ refused?: string }>) =>
    start(async () => {
      setTrouble((await does()).refused ?? "")
      setEffected(null)
      router.refresh()
    })
  const goOn = async () => {
    const does = draft ? [] : await whatItDoesAction(id)
    if (does.length) setEffected(does)
    else run(() => putLiveAction(id, "as-planned"))
  }
  const says = draft
    ? "A draft: it begins for nobody."
    : state === "paused"
      ? "Paused: nobody goes on and nothing is sent."
      : changed
        ? "Live, and changed since: people still go through it as it was."
        : "Live."
  return (
    <div
      className={`mt-2 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-md border px-3 py-2 ${draft || changed || state === "paused" ? "border-amber bg-amber-wash" : "border-line bg-card"}`}
    >
      <p className="min-w-0 flex-1">{says}</p>
      <Refusal>{trouble}</Refusal>
      {draft || changed ? (
        <Button
          look="primary"
          disabled={busy}
          onClick={() =>
            start(async () => {
              const met = await nearlyAllAtGoalAction(id)
              if (met) setAtGoal(met)
              else await goOn()
            })
          }
        >
          {draft ? "Put it live" : "Put the changes live"}
        </Button>
      ) : null}
      {!draft && state === "live" ? (
        <Button disabled={busy} onClick={() => run(() => pauseAction(id))}>
          Pause
        </Button>
      ) : null}
      {state === "paused" ? (
        <Button disabled={busy} onClick={() => run(() => resumeAction(id))}>
          Go on
        </Button>
      ) : null}
      <Dialog open={atGoal !== null} onOpenChange={() => setAtGoal(null)} title="Nearly everybody is at its goal">
        {atGoal ? (
          <p>
            {counted(atGoal.met)} of {counted(atGoal.all)} people have reached the goal already: it begins for none of
            them.
          </p>
        ) : null}
        <div className="mt-4 flex flex-wrap gap-2">
          <Button
            look="primary"
            disabled={busy}
            onClick={() => {
              setAtGoal(null)
              start(goOn)
            }}
          >
            Put it live all the same
          </Button>
          <Button onClick={() => setAtGoal(null)}>Cancel</Button>
        </div>
      </Dialog>
      <Dialog
        open={effected !== null}
        onOpenChange={() => setEffected(null)}
        title="What the changes do to those in it"
        wide
      >
        <ul>
          {effected?.map((e) => (
            <li key={`${e.says} ${e.people}`} className="border-t border-line py-2">
              <span className="font-semibold">{people(e.people)}</span> at “{e.says}”{" "}
              {e.goesOn === null
                ? "come to its end: nothing is left of what was to come."
                : e.goesOn === "here"
                  ? "stay where they are."
                  : `go on from “${e.goesOn.says}”: their step is gone.`}
              {e.miss.length ? (
                <span className="block text-amber-text">
                  They are past {e.miss.map((m) => `“${m}”`).join(" and ")}, which is new, and don’t get it.
                </span>
              ) : null}
            </li>
          ))}
        </ul>
        <fieldset className="mt-4 space-y-1">
          <legend className="font-semibold">An e-mail that is planned for somebody already</legend>
          {(
            [
              ["as-planned", "comes when it was planned"],
              ["anew", "is planned anew, by the waits as they are now"],
            ] as const
          ).map(([value, label]) => (
            <label key={value} className="flex items-center gap-2">
              <input
                type="radio"
                name="replan"
                className="accent-slate"
                checked={replan === value}
                onChange={() => setReplan(value)}
              />
              {label}
            </label>
          ))}
        </fieldset>
        <p className="mt-3 text-soft">Nobody gets an e-mail a second time that they have had on this way through.</p>
        <Button look="primary" className="mt-4" disabled={busy} onClick={() => run(() => putLiveAction(id, replan))}>
          Put the changes live
        </Button>
      </Dialog>
    </div>
  )
}
