"use client"

import { useState } from "react"
import type { BandName, FirstScreen } from "@/core/look/kind"
import { type Page, type PageForm, wearing } from "@/core/page/document"
import { Button } from "@/ui/button"
import { option, SelectField, TextArea, TextField } from "@/ui/field"
import { Refusal } from "@/ui/refusal"
import { type ActionAnswer, useAction } from "@/ui/use-action"
import { ChoosePicture } from "./block/choose-picture"
import type { EditorPicture } from "./block/settings"
import { Found } from "./found"

/** Where a page is found: host and path, and whose it is. */
export type FoundAt = { readonly address: string; readonly school: string }

const firsts: Readonly<Record<FirstScreen, string>> = {
  words: "words alone",
  beside: "words beside picture or film",
  behind: "picture behind the words",
  form: "form beside the words",
  centred: "centred, picture above",
}

const grounds: Readonly<Record<BandName, string>> = { plain: "plain", tinted: "tinted", dark: "dark" }

/** What is set of the page itself: its title, and where it is another than the look has it. */
export function PageSettings({
  page,
  found,
  pictures,
  onPicture,
  onChange,
  wearAlike,
}: {
  page: Page
  found: FoundAt
  pictures: readonly EditorPicture[]
  onPicture: (picture: EditorPicture) => void
  onChange: (page: Page, run: string) => void
  /** Has all pages of its funnel in the same form. */
  wearAlike: (form: PageForm) => Promise<ActionAnswer>
}) {
  const { busy, run, refused } = useAction()
  const [alike, setAlike] = useState("")
  const { first, ground, width } = page
  const form: PageForm = { first, ground, width }
  const set = (change: PageForm) => onChange(wearing(page, { ...form, ...change }), "")
  return (
    <div className="mt-6 space-y-3 border-t border-line pt-4">
      <TextField
        label="Title in the browser's tab"
        value={page.title}
        maxLength={120}
        onChange={(e) => onChange({ ...page, title: e.target.value }, "title")}
        error={page.title.trim() ? undefined : "A page needs a title."}
      />
      <TextArea
        label="What search engines and previews say"
        rows={3}
        maxLength={300}
        value={page.description ?? ""}
        hint={page.description?.trim() ? undefined : "Empty: its first words."}
        onChange={(e) => onChange({ ...page, description: e.target.value }, "description")}
      />
      <ChoosePicture
        label="Picture when it is shared"
        upload="Upload one to share"
        value={page.picture ?? null}
        pictures={pictures}
        onPicture={onPicture}
        onChange={(picture) => {
          const { picture: _, ...without } = page
          onChange(picture === null ? without : { ...page, picture }, "picture")
        }}
      />
      <Found page={page} pictures={pictures} {...found} />
      <SelectField
        label="First screen"
        value={first ?? ""}
        onChange={(e) => set({ first: (e.target.value || undefined) as FirstScreen | undefined })}
      >
        <option value="">as the look has it</option>
        {Object.entries(firsts).map(([key, says]) => option(key, says))}
      </SelectField>
      <SelectField
        label="Its ground"
        value={ground ?? ""}
        onChange={(e) => set({ ground: (e.target.value || undefined) as BandName | undefined })}
      >
        <option value="">as the look has it</option>
        {Object.entries(grounds).map(([key, says]) => option(key, says))}
      </SelectField>
      <SelectField
        label="Width of the page"
        value={width ?? ""}
        onChange={(e) => set({ width: (e.target.value || undefined) as Page["width"] })}
      >
        <option value="">as what stands on it needs</option>
        <option value="text">one column of text</option>
        <option value="wide">wide</option>
      </SelectField>
      <Button
        disabled={busy}
        onClick={() =>
          run(
            () => wearAlike(form),
            () => setAlike(JSON.stringify(form)),
          )
        }
      >
        All pages of this funnel like this
      </Button>
      <p role="status" className="text-note text-soft">
        {alike === JSON.stringify(form) ? "They all have this first screen, ground and width now." : ""}
      </p>
      <Refusal>{refused}</Refusal>
    </div>
  )
}
