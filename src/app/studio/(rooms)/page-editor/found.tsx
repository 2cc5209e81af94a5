"use client"

import type { Page } from "@/core/page/document"
import { describedAs } from "@/core/page/shared"
import { allBlocks } from "@/core/page/walk"
import type { EditorPicture } from "./block/settings"

/** How a page looks where it is found: as a result of a search, and as a preview where its link is shared. */
export function Found({
  page,
  address,
  school,
  pictures,
}: {
  page: Page
  /** Host and path. */
  address: string
  school: string
  pictures: readonly EditorPicture[]
}) {
  const about = describedAs(page)
  const shown =
    page.picture ?? [...allBlocks(page.blocks)].flatMap((b) => ("media" in b && b.media ? [b.media] : []))[0]
  const picture = pictures.find((p) => p.id === shown)
  const title = page.title.trim() || "No title yet"
  return (
    <section aria-label="Found and shared" className="space-y-3">
      <h3 className="text-label font-semibold">As a search result</h3>
      <div className="rounded-md border border-line bg-paper p-3 [overflow-wrap:anywhere]">
        <p className="text-fine text-soft">
          {school} · {address}
        </p>
        <p className="font-semibold text-slate">{clip(title, 60)}</p>
        <p className="text-note">{about ? clip(about, 160) : "It says nothing of itself yet."}</p>
      </div>
      <h3 className="text-label font-semibold">As a shared link</h3>
      <div className="overflow-hidden rounded-md border border-line bg-paper [overflow-wrap:anywhere]">
        {picture ? (
          <img src={picture.url} alt="" className="aspect-[1.91] w-full object-cover" />
        ) : (
          <p className="grid aspect-[1.91] place-items-center bg-shallow px-4 text-center text-note text-soft">
            No picture: the first one on the page stands here.
          </p>
        )}
        <div className="p-3">
          <p className="text-fine text-soft">{address.split("/")[0]}</p>
          <p className="font-semibold">{clip(title, 70)}</p>
          {about ? <p className="text-note text-soft">{clip(about, 110)}</p> : null}
        </div>
      </div>
    </section>
  )
}

/** Cut at a word where it is longer than is shown (common practice: about 60 letters of a title, 160 of a description). */
const clip = (text: string, most: number) =>
  text.length <= most ? text : `${text.slice(0, most).replace(/\s+\S*$/, "")} …`
