"use client"

import { useRouter } from "next/navigation"
import { useState } from "react"
import type { MediaKind } from "@/server/media/store"
import { Button } from "@/ui/button"
import { Confirm } from "@/ui/confirm"
import { TextArea, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { useAction } from "@/ui/use-action"
import { Upload } from "../../../upload"
import { describeMediaAction, removeMediaAction, replaceMediaAction } from "../../actions"

/** What it is called and shows; another in its place; and away with it. */
export function AboutMedia({
  id,
  kind,
  name: given,
  alt: said,
  used,
}: {
  id: number
  kind: MediaKind
  name: string
  alt: string
  used: boolean
}) {
  const router = useRouter()
  const [name, setName] = useState(given)
  const [alt, setAlt] = useState(said)
  const { busy, run, refused, answer } = useAction()
  const replacing = useAction()
  return (
    <>
      <form
        className="space-y-3"
        onSubmit={(e) => {
          e.preventDefault()
          run(() => describeMediaAction(id, { name, alt }))
        }}
      >
        <TextField
          label="Name"
          value={name}
          maxLength={200}
          onChange={(e) => setName(e.target.value)}
          {...(answer.field === "name" ? { error: refused } : {})}
        />
        {kind === "picture" ? (
          <TextArea
            label="What it shows"
            rows={2}
            maxLength={300}
            value={alt}
            hint="For whoever can’t see it. Wherever this picture is chosen from now on, it begins with these words."
            onChange={(e) => setAlt(e.target.value)}
          />
        ) : null}
        <Button type="submit" disabled={busy || (name === given && alt === said)}>
          {busy ? "Saving…" : "Save"}
        </Button>
        {answer.field === "name" ? null : <Refusal>{refused}</Refusal>}
      </form>
      <section className="mt-6 border-t border-line pt-4">
        <h2>Another in its place</h2>
        <p className="mt-1 mb-2 text-soft">
          {used
            ? "Every page, lesson and e-mail that shows it shows the other from now on. What stood there stays in Media."
            : "It takes over the number of this one, which is kept beside it."}
        </p>
        <Upload
          kind={kind}
          label={replacing.busy ? "Putting it everywhere…" : `Choose the other ${kind}`}
          onDone={(done) => replacing.run(() => replaceMediaAction(id, done.id))}
        />
        <Refusal>{replacing.refused}</Refusal>
      </section>
      {used ? null : (
        <section className="mt-6 border-t border-line pt-4">
          <Confirm
            opens="Remove"
            title={`Remove “${given}”?`}
            does="Remove it"
            act={() => removeMediaAction(id)}
            then={() => router.push("/studio/settings/media")}
          >
            It is used nowhere. E-mails that were sent with it show a gap from then on. It can’t be brought back.
          </Confirm>
        </section>
      )}
    </>
  )
}
