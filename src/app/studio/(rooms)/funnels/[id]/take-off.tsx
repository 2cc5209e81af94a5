"use client"
import type { Funnel } from "@/core/funnel/draft"
import { count } from "@/core/funnel/river"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { useAction } from "@/ui/use-action"
import { unpublishAction } from "../actions"

/** Asks before a funnel is taken off the web, and says who is on their way. */
export function TakeOff({
  funnel,
  underWay,
  onClose,
  onSaid,
}: {
  funnel: Pick<Funnel, "id" | "name">
  underWay: { readonly here: number; readonly mails: number }
  onClose: () => void
  onSaid: (words: string) => void
}) {
  const { busy, run } = useAction()
  return (
    <Dialog open onOpenChange={(o) => !o && onClose()} title={`Take “${funnel.name}” off the web?`}>
      <p>Visitors then find nothing at its addresses, and nobody can join or buy there.</p>
      <p className="mt-2">{underWayWords(underWay)}</p>
      <div className="mt-4 flex justify-end gap-2">
        <Button
          look="danger"
          disabled={busy}
          onClick={() =>
            run(
              () => unpublishAction(funnel.id),
              () => {
                onClose()
                onSaid("Taken off. Visitors find nothing at its addresses. It can be published again at any time.")
              },
            )
          }
        >
          Take it off
        </Button>
        <Button look="primary" onClick={onClose}>
          Leave it live
        </Button>
      </div>
    </Dialog>
  )
}

/** Who would be affected by taking a funnel off, in whole sentences. */
function underWayWords({ here, mails }: { here: number; mails: number }): string {
  const left =
    here === 0
      ? "Nobody is on their way through its pages."
      : here === 1
        ? "One person is on their way through its pages."
        : `${count(here)} people are on their way through its pages.`
  const mailed =
    mails === 0
      ? ""
      : mails === 1
        ? " One person goes on getting its e-mails."
        : ` ${count(mails)} people go on getting its e-mails.`
  return left + mailed
}
