"use client"

import { useRouter } from "next/navigation"
import { Confirm } from "@/ui/confirm"
import { erasePersonAction } from "../actions"

/** What is kept of somebody as a file, and erasing them, asked before. */
export function Erase({ person, name }: { person: number; name: string }) {
  const router = useRouter()
  return (
    <p className="mt-2 flex flex-wrap items-center gap-3">
      <a className="text-slate underline" href={`/studio/people/${person}/everything.json`}>
        All of it as a file
      </a>
      <Confirm
        opens="Erase this person…"
        title={`Erase ${name}?`}
        does="Erase"
        act={() => erasePersonAction(person)}
        then={() => router.push("/studio/people")}
      >
        Their story, what they may open, did and wrote, and every e-mail to them goes, for good. Orders stay, as the
        books need them. Their address is remembered as a hash only, so that no file brings them back.
      </Confirm>
    </p>
  )
}
