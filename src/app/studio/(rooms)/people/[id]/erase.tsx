"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import { Button } from "@/ui/button"
import { Dialog } from "@/ui/dialog"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { erasePersonAction } from "../actions"

/** What is kept of somebody as a file, and erasing them, asked before. */
export function Erase({ person, name }: { person: number; name: string }) {
  const router = useRouter()
  const [sure, setSure] = useState(false)
  const { busy, refused, run } = useAction()
  return (
    <p className="mt-2 flex flex-wrap items-center gap-3">
      <a className="text-slate underline" href={`/studio/people/${person}/everything.json`}>
        All of it as a file
      </a>
      <Button look="danger" onClick={() => setSure(true)}>
        Erase this person…
      </Button>
      <Dialog open={sure} onOpenChange={setSure} title={`Erase ${name}?`}>
        <p>
          Their story, what they may open, did and wrote, and every e-mail to them goes, for good. Orders stay, as the
          books need them. Their address is remembered as a hash only, so that no file brings them back.
        </p>
        <Refusal className="mt-2">{refused}</Refusal>
        <Button
          look="danger"
          className="mt-4"
          disabled={busy}
          onClick={() =>
            run(
              () => erasePersonAction(person),
              () => router.push("/studio/people"),
            )
          }
        >
          Erase
        </Button>
      </Dialog>
    </p>
  )
}
