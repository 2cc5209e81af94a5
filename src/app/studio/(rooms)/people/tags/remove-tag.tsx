"use client"

import { useRouter } from "next/navigation"
import { locale } from "@/core/words/locale"
import { Confirm } from "@/ui/confirm"
import { removeTagAction } from "./actions"

/** Asks, with what goes with it, before a tag is removed from everybody. */
export function RemoveTag({ tag, name, people, uses }: { tag: number; name: string; people: number; uses: number }) {
  const router = useRouter()
  return (
    <Confirm
      className="mt-4"
      opens="Remove this tag"
      title={`Remove the tag “${name}”?`}
      does="Remove it"
      keeps="Keep it"
      act={() => removeTagAction(tag)}
      then={() => router.push("/studio/people/tags")}
    >
      {people === 1 ? "One person loses it" : `${people.toLocaleString(locale)} people lose it`}
      {uses === 0
        ? ". Nothing uses it."
        : uses === 1
          ? ", and what uses it does without it."
          : `, and the ${uses} places that use it do without it.`}
    </Confirm>
  )
}
