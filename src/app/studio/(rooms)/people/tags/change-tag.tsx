"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import { Button } from "@/ui/button"
import { option, SelectField, TextField } from "@/ui/field"
import { useAction } from "@/ui/use-action"
import { mergeTagsAction, renameTagAction } from "./actions"

/** Another name for a tag, or another tag in its place. */
export function ChangeTag({
  tag,
  name: given,
  others,
}: {
  tag: number
  name: string
  others: readonly { readonly id: number; readonly name: string }[]
}) {
  const router = useRouter()
  const { busy, refused, run } = useAction()
  const [name, setName] = useState(given)
  const [into, setInto] = useState(0)
  return (
    <div className="mt-3 grid grid-cols-1 gap-x-6 gap-y-3 sm:grid-cols-2">
      <form
        className="flex items-start gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          run(() => renameTagAction(tag, name))
        }}
      >
        <div className="flex-1">
          <TextField
            label="Name"
            value={name}
            maxLength={60}
            required
            error={refused || undefined}
            onChange={(e) => setName(e.target.value)}
          />
        </div>
        <Button type="submit" className="mt-6" disabled={busy || name.trim() === given}>
          Rename
        </Button>
      </form>
      {others.length ? (
        <div className="flex items-start gap-2">
          <div className="flex-1">
            <SelectField
              label="Merge into"
              value={into}
              hint="Whoever has this one has the other then, and whatever names it means the other."
              onChange={(e) => setInto(Number(e.target.value))}
            >
              <option value={0}>Choose a tag</option>
              {others.map((t) => option(t.id, t.name))}
            </SelectField>
          </div>
          <Button
            className="mt-6"
            disabled={busy || !into}
            onClick={() =>
              run(
                () => mergeTagsAction(tag, into),
                () => router.push(`/studio/people/tags?tag=${into}`),
              )
            }
          >
            Merge
          </Button>
        </div>
      ) : null}
    </div>
  )
}
