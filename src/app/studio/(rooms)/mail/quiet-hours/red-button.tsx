"use client"
import { Button } from "@/ui/button"
import { TextLink } from "@/ui/link"
import { useAction } from "@/ui/use-action"
import { eMails } from "../../words"
import { pauseMailAction, resumeMailAction } from "../broadcasts/actions"

/** Holds everything that nobody asked for just now, until it is let go on. */
export function RedButton({ since, held }: { since: string | null; held: number }) {
  const { busy, run } = useAction()
  const act = (does: (person: null) => Promise<unknown>) => run(() => does(null))
  return since === null ? (
    <div className="flex flex-wrap items-center gap-4">
      <button
        type="button"
        disabled={busy}
        onClick={() => act(pauseMailAction)}
        className="min-h-11 rounded-md bg-[#94405a] px-4 font-semibold text-white hover:brightness-110 disabled:opacity-50"
      >
        Hold all sequences and broadcasts
      </button>
      <span className="text-soft">
        Nothing of them is sent until you let it go on. Sign-in links and receipts still go.
      </span>
    </div>
  ) : (
    <div className="flex flex-wrap items-center gap-4 rounded-md border border-dusk bg-card px-3 py-3">
      <p className="min-w-0 flex-1">
        <strong className="text-dusk">Everything is held</strong> since {since}.{" "}
        <TextLink href="/studio/mail/due?show=held">{held >= 100 ? "100 and more" : eMails(held)} held</TextLink>
      </p>
      <Button look="primary" disabled={busy} onClick={() => act(resumeMailAction)}>
        Let it go on
      </Button>
    </div>
  )
}
