"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import { locale } from "@/core/words/locale"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { useAction } from "@/ui/use-action"
import { removeTagAction } from "./actions"

/** Asks, with what goes with it, before a tag is removed from everybody. */
export function RemoveTag({ tag, name, people, uses }: { tag: number; name: string; people: number; uses: number }) {
  const [open, setOpen] = useState(false)
  const { busy, run } = useAction()
  const router = useRouter()
  return (
    <>
      <Button look="danger" className="mt-4" onClick={() => setOpen(true)}>
        Remove this tag
      </Button>
      <Dialog open={open} onOpenChange={setOpen} title={`Remove the tag “${name}”?`}>
        <p>
          {people === 1 ? "One person loses it" : `${people.toLocaleString(locale)} people lose it`}
          {uses === 0
            ? ". Nothing uses it."
            : uses === 1
              ? ", and what uses it does without it."
              : `, and the ${uses} places that use it do without it.`}
        </p>
        <div className="mt-4 flex justify-end gap-2">
          <Button
            look="danger"
            disabled={busy}
            onClick={() =>
              run(
                () => removeTagAction(tag),
                () => {
                  setOpen(false)
                  router.push("/studio/people/tags")
                },
              )
            }
          >
            Remove it
          </Button>
          <Button look="primary" onClick={() => setOpen(false)}>
            Keep it
          </Button>
        </div>
      </Dialog>
    </>
  )
}
